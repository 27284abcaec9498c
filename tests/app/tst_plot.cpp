// SPDX-License-Identifier: GPL-3.0-or-later
//
// The plot as it is read, dragged and taken along.
#include "pages/live/live_picture.h"
#include "support/fixtures.h"
#include "theme/theme.h"
#include "widgets/candidate_mark.h"
#include "widgets/plot.h"

#include <QApplication>
#include <QClipboard>
#include <QMenu>
#include <QPainter>
#include <QTimer>
#include <qcustomplot.h>

using namespace hr;
using namespace hr::app;

class tst_plot : public QObject {
    Q_OBJECT

    static int pixelsOf(const QImage& picture, const QColor& colour)
    {
        int count = 0;
        for (int y = 0; y < picture.height(); ++y)
            for (int x = 0; x < picture.width(); ++x)
                count += picture.pixelColor(x, y).rgb() == colour.rgb() ? 1 : 0;
        return count;
    }

private slots:
    void theCursorReadsAllCurves()
    {
        Plot plot({QStringLiteral("frequency"), QStringLiteral("Hz"), true, 0, 0},
                  {QStringLiteral("magnitude"), QStringLiteral("dB"), false, 6, 2});
        plot.resize(600, 300);
        QVERIFY(plot.cursorText().isEmpty());
        plot.setCursor(1000); // nothing to read
        QVERIFY(plot.cursorText().isEmpty());
        plot.setCurves({{1, QStringLiteral("A one"), {{10, 0}, {1000, -6}, {20000, -6}}},
                        {2, QStringLiteral("B two"), {{100, 3}, {10000, 3}}}});
        plot.setCursor(100);
        // Half way on the logarithmic axis.
        QCOMPARE(plot.cursorText(), QStringLiteral("100 Hz\nA −3.00 dB\nB 3.00 dB"));
        plot.setCursor(50);
        QVERIFY(!plot.cursorText().contains(QStringLiteral("\nB "))); // no extrapolation
        QTest::keyClick(&plot, Qt::Key_C, Qt::ControlModifier | Qt::ShiftModifier);
        QVERIFY(QApplication::clipboard()->text().contains(QStringLiteral("A one\t1000\t-6")));
        for (const auto key : {Qt::Key_Plus, Qt::Key_Minus, Qt::Key_Home, Qt::Key_Left})
            QTest::keyClick(&plot, key);
        QVERIFY(!plot.grab().isNull());
    }

    void marksStandOnTheirCurveAndGoWithIt()
    {
        Plot plot({QStringLiteral("in"), QStringLiteral("dBFS"), false, 0, 1},
                  {QStringLiteral("out"), QStringLiteral("dBFS"), false, 6, 2});
        plot.resize(400, 300);
        const std::vector<std::pair<double, double>> points{{-60, -60}, {-20, -20}, {0, -15}};
        plot.setCurves({{1, QStringLiteral("A"), points}});
        const QImage bare = plot.grab().toImage();
        plot.setCurves({{1, QStringLiteral("A"), points, {{-20, -20, QStringLiteral("threshold")}}}});
        QVERIFY(plot.grab().toImage() != bare);
        // Its word as well, where there is room beside the others'.
        const QImage marked = plot.grab().toImage();
        plot.setCurves({{1, QStringLiteral("A"), points, {{-20, -20, QString()}}}});
        const QImage dotted = plot.grab().toImage();
        QVERIFY(dotted != marked);
        const PlotMark there{-20, -20, QStringLiteral("threshold")};
        plot.setCurves({{1, QStringLiteral("A"), points, {there, there, there, there, there}}});
        const QImage crowded = plot.grab().toImage();
        plot.setCurves({{1, QStringLiteral("A"), points, {there, there, there, there, {-20, -20, QString()}}}});
        QCOMPARE(plot.grab().toImage(), crowded); // the fifth finds none
        plot.setCurves({{1, QStringLiteral("A"), points}});
        QCOMPARE(plot.grab().toImage(), bare);
        // A guide is seen, and is no datum.
        Curve guide{0, QStringLiteral("1:1"), {{-60, -60}, {0, 0}}};
        guide.guide = true;
        plot.setCurves({guide, {1, QStringLiteral("A"), points}});
        QVERIFY(plot.grab().toImage() != bare);
        plot.setCursor(-40);
        QVERIFY(plot.cursorText().contains(QStringLiteral("A ")));
        QVERIFY(!plot.cursorText().contains(QStringLiteral("1:1")));
        const QTemporaryDir folder;
        const std::filesystem::path file(folder.filePath(QStringLiteral("p.csv")).toStdString());
        HR_VERIFY(plot.saveAs(file));
        QFile written(folder.filePath(QStringLiteral("p.csv")));
        QVERIFY(written.open(QIODevice::ReadOnly) && !written.readAll().contains("1:1"));
    }

    void oddAndEvenHarmonicsLookDifferent()
    {
        const auto colourOf = [](double order) {
            Plot plot({QStringLiteral("harmonic"), QStringLiteral("order"), false, 0, 0},
                      {QStringLiteral("level"), QStringLiteral("dB"), false, 40, 1}, Drawing::OddAndEven);
            plot.resize(300, 200);
            plot.setCurves({{1, QStringLiteral("A"), {{order - 1, -139}, {order, -20}, {order + 1, -139}}}});
            const QImage picture = plot.grab().toImage();
            QMap<QRgb, int> counts;
            for (int y = 0; y < picture.height(); ++y)
                for (int x = 0; x < picture.width(); ++x)
                    if (const QColor at = picture.pixelColor(x, y); at.blue() > at.red() + 40)
                        ++counts[at.rgb()];
            QRgb most = 0;
            for (auto it = counts.cbegin(); it != counts.cend(); ++it)
                if (it.value() > counts.value(most))
                    most = it.key();
            return QColor(most);
        };
        QVERIFY(colourOf(2).lightness() > colourOf(3).lightness() + 30);
    }

    void theCursorStandsOnStems()
    {
        Plot plot({QStringLiteral("harmonic"), QStringLiteral("order"), false, 0, 0},
                  {QStringLiteral("level"), QStringLiteral("dB"), false, 40, 1}, Drawing::OddAndEven);
        plot.setCurves(
            {{1, QStringLiteral("A"), {{3, -40}, {5, -60}}}, {2, QStringLiteral("B"), {{2, -20}, {3, -50}}}});
        plot.setCursor(4.2);
        QCOMPARE(plot.cursorText(), QStringLiteral("harmonic 5\nA −60.0 dB")); // B has none
        QTest::keyClick(&plot, Qt::Key_Left);
        QCOMPARE(plot.cursorText(), QStringLiteral("harmonic 3\nA −40.0 dB\nB −50.0 dB"));
    }

    void aSinglePlaceIsInSight_data()
    {
        QTest::addColumn<int>("drawing");
        QTest::addColumn<int>("least_pixels");
        QTest::newRow("a bar") << int(Drawing::Stems) << 100;
        QTest::newRow("a point of a line") << int(Drawing::Lines) << 4;
    }
    void aSinglePlaceIsInSight()
    {
        QFETCH(const int, drawing);
        QFETCH(const int, least_pixels);
        Plot plot({QStringLiteral("time"), QStringLiteral("ms"), false, 0, 1},
                  {QStringLiteral("level"), QStringLiteral("dB"), false, 40, 1}, Drawing(drawing));
        plot.resize(300, 200);
        Curve curve{1, QString(), {{300, -6}}};
        curve.explained = true; // so that no label is of its colour
        plot.setCurves({curve});
        QVERIFY(pixelsOf(plot.grab().toImage(), markColour(1)) >= least_pixels);
    }

    /// However long it takes, the figures along the axis do not run into one another.
    void timesHaveRoomAlongTheirAxis()
    {
        Plot plot({QStringLiteral("time"), QStringLiteral("ms"), false, 0, 1},
                  {QStringLiteral("gain"), QStringLiteral("dB"), false, 6, 1});
        plot.resize(500, 240);
        plot.show();
        const auto* axis = plot.findChild<QCustomPlot*>()->xAxis;
        for (const double longest_ms : {90.0, 2600.0, 60000.0}) {
            plot.setCurves({{1, QStringLiteral("A"), {{0, 0}, {longest_ms, -6}}}});
            QVector<double> ticks;
            QVector<QString> words;
            axis->ticker()->generate(axis->range(), QLocale(), u'g', 6, ticks, nullptr, &words);
            int needed_px = 0;
            for (const QString& word : words)
                needed_px += QFontMetrics(axis->tickLabelFont()).horizontalAdvance(word + QStringLiteral("  "));
            QVERIFY(words.size() >= 3);
            QVERIFY2(needed_px < axis->axisRect()->width(), qPrintable(words.join(QLatin1Char(' '))));
        }
    }

    void dotsAddUpAndStayInTheirArea()
    {
        QPixmap paper(40, 40);
        paper.fill(Qt::white);
        const QColor half(0, 0, 0, 128);
        const std::vector<QPointF> dots{{10, 10}, {10, 10}, {25, 25}, {-3, 5}, {400, 5}, {std::nan(""), 5}};
        {
            QPainter painter(&paper);
            drawDots(painter, {0, 0, 40, 40}, dots, half, 2);
        }
        const QImage drawn = paper.toImage();
        HR_NEAR(drawn.pixelColor(25, 25).red(), 127, 2);
        HR_NEAR(drawn.pixelColor(10, 10).red(), 63, 2);
        QCOMPARE(40 * 40 - pixelsOf(drawn, Qt::white), 8);
    }

    void aRightClickOpensThePlotsMenu()
    {
        Plot plot({QStringLiteral("in"), QStringLiteral("dBFS"), false, 0, 1},
                  {QStringLiteral("out"), QStringLiteral("dBFS"), false, 6, 2});
        plot.resize(400, 300);
        plot.show();
        QVERIFY(QTest::qWaitForWindowExposed(&plot));
        QStringList offered;
        QTimer::singleShot(300, &plot, [&offered] {
            if (auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget())) {
                for (const QAction* action : menu->actions())
                    offered << action->text();
                menu->close();
            }
        });
        QTest::mouseClick(plot.windowHandle(), Qt::RightButton, {}, QPoint(200, 150)); // as a hand does
        QTRY_COMPARE(offered.value(2), QStringLiteral("Save as a file"));
    }

    void aPlotMayGoWhileItsMenuIsOpen()
    {
        QWidget window;
        auto* plot = new Plot({QStringLiteral("in"), QStringLiteral("dBFS"), false, 0, 1},
                              {QStringLiteral("out"), QStringLiteral("dBFS"), false, 6, 2});
        plot->setParent(&window);
        plot->resize(400, 300);
        window.resize(400, 300);
        window.show();
        QVERIFY(QTest::qWaitForWindowExposed(&window));
        for (const char* entry : {"Copy the data", "Save as a file"}) {
            QContextMenuEvent asked(QContextMenuEvent::Mouse, QPoint(100, 100),
                                    plot->mapToGlobal(QPoint(100, 100)));
            QApplication::sendEvent(plot, &asked); // it returns before anything has been chosen
            QTRY_VERIFY(QApplication::activePopupWidget());
            auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
            const auto actions = menu->actions();
            const auto chosen = std::ranges::find_if(
                actions, [entry](const QAction* action) { return action->text() == QLatin1String(entry); });
            QVERIFY(chosen != actions.end());
            if (QLatin1String(entry) == QStringLiteral("Save as a file"))
                delete plot; // as a click on another test does
            menu->close();
            (*chosen)->trigger(); // of nobody any more: nothing is done
            QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        }
    }

    void aPlotLeavesAsAFile()
    {
        const QTemporaryDir folder;
        const auto path = [&folder](const char* name) {
            return std::filesystem::path(folder.filePath(QLatin1String(name)).toStdString());
        };
        const auto contents = [](const std::filesystem::path& file) {
            QFile in(file);
            return in.open(QIODevice::ReadOnly) ? in.readAll() : QByteArray();
        };
        Plot plot({QStringLiteral("frequency"), QStringLiteral("Hz"), true, 0, 0},
                  {QStringLiteral("magnitude"), QStringLiteral("dB"), false, 12, 2});
        plot.resize(400, 300);
        plot.setCurves({{1, QStringLiteral("A \"one\""), {{20, 0}, {20000, -3.5}}}});
        for (const char* name : {"p.svg", "p.csv", "p.png"})
            HR_VERIFY(plot.saveAs(path(name)));
        QVERIFY(contents(path("p.svg")).startsWith("<svg"));
        QCOMPARE(contents(path("p.csv")),
                 QByteArray("curve,\"frequency_Hz\",\"magnitude_dB\"\r\n"
                            "\"A \"\"one\"\"\",20.0,0.0\r\n\"A \"\"one\"\"\",20000.0,-3.5\r\n"));
        QVERIFY(QImage::fromData(contents(path("p.png"))).width() > 400);
        QVERIFY(!plot.saveAs("/nowhere/at/all.svg"));
    }
};

HR_TEST(tst_plot)
#include "tst_plot.moc"
