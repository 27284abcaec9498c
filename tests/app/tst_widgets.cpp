// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/live/live_picture.h"
#include "pages/measure/figures_table.h"
#include "support/fixtures.h"
#include "theme/theme.h"
#include "widgets/basics.h"
#include "widgets/candidate_mark.h"
#include "widgets/fair_line.h"
#include "widgets/parameter_row.h"
#include "widgets/plot.h"
#include "widgets/shaped_texts.h"
#include "widgets/waveform_view.h"

#include <QApplication>
#include <QClipboard>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPainter>
#include <QSet>
#include <QSignalSpy>
#include <QTimer>
#include <qcustomplot.h>

using namespace hr;
using namespace hr::app;

Q_DECLARE_METATYPE(hr::audition::Section)

class tst_widgets : public QObject {
    Q_OBJECT

    const processors::ParameterInfo m_gain{"g", "Gain", "dB", -24, 24, 0, processors::Scale::Linear,
                                           {},  {},     false};
    const processors::ParameterInfo m_mode{
        "m", "Mode", "", 0, 2, 1, processors::Scale::Choice, {{0, "Soft"}, {1, "Medium"}, {2, "Hard"}},
        {},  false};

    static int pixelsOf(const QImage& picture, const QColor& colour)
    {
        int count = 0;
        for (int y = 0; y < picture.height(); ++y)
            for (int x = 0; x < picture.width(); ++x)
                count += picture.pixelColor(x, y).rgb() == colour.rgb() ? 1 : 0;
        return count;
    }

private slots:
    void keysStepAndReset_data()
    {
        QTest::addColumn<int>("key");
        QTest::addColumn<int>("modifiers");
        QTest::addColumn<double>("value");
        QTest::newRow("right") << int(Qt::Key_Right) << int(Qt::NoModifier) << 12.48;
        QTest::newRow("down") << int(Qt::Key_Down) << int(Qt::NoModifier) << 11.52;
        QTest::newRow("finer") << int(Qt::Key_Right) << int(Qt::ShiftModifier) << 12.048;
        QTest::newRow("to the end") << int(Qt::Key_End) << int(Qt::NoModifier) << 24.0;
        QTest::newRow("to the beginning") << int(Qt::Key_Home) << int(Qt::NoModifier) << -24.0;
        QTest::newRow("back to the default") << int(Qt::Key_Delete) << int(Qt::NoModifier) << 0.0;
    }
    void keysStepAndReset()
    {
        QFETCH(int, key);
        QFETCH(int, modifiers);
        QFETCH(double, value);
        Track track(m_gain);
        track.setValue(12);
        QSignalSpy moved(&track, &Track::moved);
        QTest::keyClick(&track, static_cast<Qt::Key>(key), static_cast<Qt::KeyboardModifiers>(modifiers));
        QCOMPARE(moved.size(), 1);
        HR_NEAR(track.value(), value, 1e-9);
    }

    void draggingMovesAndDoubleClickResets()
    {
        Track track(m_gain);
        track.resize(211, 18);
        track.setValue(0);
        QTest::mousePress(&track, Qt::LeftButton, {}, QPoint(105, 9)); // on the handle
        QTest::mouseMove(&track, QPoint(155, 9));
        HR_NEAR(track.value(), 12, 0.3);
        QTest::mouseRelease(&track, Qt::LeftButton, {}, QPoint(155, 9));
        QTest::mouseDClick(&track, Qt::LeftButton, {}, QPoint(30, 9));
        QCOMPARE(track.value(), 0.0);
    }

    void typingIsUnderstoodOrRefused_data()
    {
        QTest::addColumn<QString>("typed");
        QTest::addColumn<double>("value");
        QTest::addColumn<bool>("refused");
        QTest::newRow("number") << "-6.5" << -6.5 << false;
        QTest::newRow("with its unit") << QStringLiteral("−3 dB") << -3.0 << false;
        QTest::newRow("nonsense") << "louder!" << 5.0 << true;
        QTest::newRow("beyond the range") << "99" << 24.0 << true;
        QTest::newRow("nothing") << "" << 5.0 << true;
    }
    void typingIsUnderstoodOrRefused()
    {
        QFETCH(QString, typed);
        QFETCH(double, value);
        QFETCH(bool, refused);
        ParameterRow row(m_gain);
        row.setValue(5);
        auto* edit = row.findChild<QLineEdit*>();
        QSignalSpy changed(&row, &ParameterRow::changed);
        QSignalSpy said(&row, &ParameterRow::refused);
        edit->setText(typed); // keyClicks knows ASCII only
        QTest::keyClick(edit, Qt::Key_Return);
        QCOMPARE(said.size(), refused ? 1 : 0);
        QCOMPARE(row.findChild<Track*>()->value(), value);
        QCOMPARE(changed.size(), value == 5.0 ? 0 : 1);
        QVERIFY(edit->text().endsWith(QStringLiteral("dB")));
    }

    void aValueLeavesRoomForTheName()
    {
        processors::ParameterInfo threshold = m_gain;
        threshold.name = "Threshold";
        ParameterRow row(threshold);
        row.resize(150, 40);
        static_cast<QWidget&>(row).show();
        QVERIFY(QTest::qWaitForWindowExposed(&row));
        QCOMPARE(row.findChild<QLabel*>()->text(), QStringLiteral("Threshold"));
        const auto* edit = row.findChild<QLineEdit*>();
        QVERIFY(edit->width() > edit->fontMetrics().horizontalAdvance(edit->text()));
    }

    void choicesAreButtons()
    {
        ParameterRow row(m_mode);
        const auto buttons = row.findChildren<QPushButton*>();
        QCOMPARE(buttons.size(), 3);
        QVERIFY(buttons[1]->isChecked());
        QSignalSpy changed(&row, &ParameterRow::changed);
        QTest::keyClick(buttons[2], Qt::Key_Return);
        QCOMPARE(changed.size(), 1);
        QCOMPARE(changed[0][0].toDouble(), 2.0);
        QVERIFY(buttons[2]->isChecked() && !buttons[1]->isChecked());
    }

    void theWaveformTakesEdgesClicksAndDoubleClicks()
    {
        WaveformView view;
        view.resize(400, 60);
        const auto source = std::make_shared<audition::Source>(test::tone(100, -6, 4));
        view.setSource(source);
        view.setLoop({48000, 96000}); // x from 100 to 300
        QSignalSpy loops(&view, &WaveformView::loopChosen);
        QSignalSpy positions(&view, &WaveformView::positionChosen);
        QTest::mousePress(&view, Qt::LeftButton, {}, QPoint(300, 30)); // the right edge
        QTest::mouseMove(&view, QPoint(350, 30));
        QTest::mouseRelease(&view, Qt::LeftButton, {}, QPoint(350, 30));
        QCOMPARE(loops.size(), 1);
        const auto loop = loops[0][0].value<audition::Section>();
        HR_NEAR(static_cast<double>(loop.first), 48000, 500);
        HR_NEAR(static_cast<double>(loop.first + loop.frames), 168000, 500);
        QTest::mouseClick(&view, Qt::LeftButton, {}, QPoint(200, 30));
        QCOMPARE(positions.size(), 1);
        HR_NEAR(static_cast<double>(positions[0][0].value<std::size_t>()), 96000, 500);
        QTest::mouseDClick(&view, Qt::LeftButton, {}, QPoint(200, 30));
        QCOMPARE(loops.back()[0].value<audition::Section>(), source->whole());
        QVERIFY(!view.grab().isNull());
        WaveformView empty;
        QTest::mouseClick(&empty, Qt::LeftButton); // nothing there, nothing happens
        QVERIFY(!empty.grab().isNull());
    }

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

    void onlyDifferencesBeyondTheUncertaintyAreMarked()
    {
        const auto benched = [](int mark, double gain_db, double corner_hz) {
            library::StoredReading stored;
            stored.test = QStringLiteral("response");
            stored.reading.figures = {{"gain_1k_db", gain_db}, {"corner_high_hz", corner_hz}};
            return MeasuredCandidate{mark, QStringLiteral("x"), {}, {stored}, false};
        };
        FiguresTable table;
        const MeasuredCandidate unasked{4, QStringLiteral("x"), {}, {}, false};
        table.fill({benched(1, 1.00, 1000), benched(2, 1.03, 1015), benched(3, 1.05, 1025), unasked},
                   {{QStringLiteral("response"), QStringLiteral("gain_1k_db")},
                    {QStringLiteral("response"), QStringLiteral("corner_high_hz")}});
        for (int row = 0; row < 2; ++row) { // 0.02 dB and 1 % each
            QVERIFY(!table.item(row, 1)->font().bold());
            QVERIFY(!table.item(row, 2)->font().bold());
            QVERIFY(table.item(row, 3)->font().bold());
            QCOMPARE(table.item(row, 4)->text(), QStringLiteral("not measured"));
        }
    }

    void figuresHaveRealMinusSigns_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("expected");
        QTest::newRow("minus") << number(-3.24, 1) << QStringLiteral("−3.2");
        QTest::newRow("no minus nought") << number(-0.004, 2) << "0.00";
        QTest::newRow("plus") << signedNumber(2.5, 1) << "+2.5";
        QTest::newRow("signed minus") << signedNumber(-2.5, 1) << QStringLiteral("−2.5");
        QTest::newRow("nought has no sign") << signedNumber(0.01, 1) << "0.0";
        QTest::newRow("too small to be nothing") << figureText(0.0002, QStringLiteral("%"), 3) << "< 0.001";
        QTest::newRow("nothing at all") << figureText(0, QStringLiteral("%"), 3) << "0.000";
        QTest::newRow("hertz") << frequencyText(63) << "63.0 Hz";
        QTest::newRow("kilohertz") << frequencyText(3200) << "3.20 kHz";
    }
    void figuresHaveRealMinusSigns()
    {
        QFETCH(QString, text);
        QTEST(text, "expected");
    }

    void shapedTextStaysInItsBox()
    {
        const auto drawn = [](int width, const QString& text) {
            QImage image(200, 30, QImage::Format_ARGB32_Premultiplied);
            image.fill(Qt::white);
            QPainter painter(&image);
            painter.setFont(Theme::words(Theme::text_px));
            drawShaped(painter, QRect(10, 0, width, 30), text);
            painter.end();
            return image;
        };
        const QString text = QStringLiteral("Cordage Leveller of the bench");
        const QImage cut = drawn(60, text);
        const auto blank = [&](const QImage& image, int from, int to) {
            for (int x = from; x < to; ++x)
                for (int y = 0; y < image.height(); ++y)
                    if (image.pixel(x, y) != qRgb(255, 255, 255))
                        return false;
            return true;
        };
        QVERIFY(!blank(cut, 10, 70));
        QVERIFY(blank(cut, 72, 200)); // a pixel for the glyph that leans over
        QVERIFY(!blank(drawn(190, text), 72, 200));
        QVERIFY(drawn(60, text) == cut); // from memory as when it was shaped
        QVERIFY(drawn(60, QStringLiteral("Brine")) != cut);
    }

    void everyCandidateIsItsOwn()
    {
        QSet<QString> letters;
        QSet<QRgb> colours;
        QSet<QByteArray> shapes;
        for (int lane = 0; lane <= 8; ++lane) {
            letters << markLetter(lane);
            colours << markColour(lane).rgb();
            QImage image(60, 60, QImage::Format_ARGB32);
            image.fill(Qt::transparent);
            QPainter painter(&image);
            paintMark(painter, QRectF(5, 5, 50, 50), lane);
            painter.end();
            // The outline alone, whatever its colour and letter.
            const QImage outline = image.createAlphaMask();
            shapes << QByteArray(reinterpret_cast<const char*>(outline.constBits()),
                                 static_cast<int>(outline.sizeInBytes()));
        }
        QCOMPARE(letters.size(), 9);
        QCOMPARE(colours.size(), 9);
        QCOMPARE(shapes.size(), 9);
    }

    void wordsStandOutFromTheirGround_data()
    {
        QTest::addColumn<int>("theme");
        QTest::newRow("paper") << int(ThemeName::Paper);
        QTest::newRow("lamplight") << int(ThemeName::Lamplight);
    }
    void wordsStandOutFromTheirGround()
    {
        QFETCH(int, theme);
        Theme::apply(*qobject_cast<QApplication*>(QCoreApplication::instance()), static_cast<ThemeName>(theme));
        const Palette p = Theme::palette();
        // WCAG 2.1: (L1 + 0.05) / (L2 + 0.05) of relative luminances.
        const auto luminance = [](const QColor& c) {
            const auto part = [](double v) {
                return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
            };
            return 0.2126 * part(c.redF()) + 0.7152 * part(c.greenF()) + 0.0722 * part(c.blueF());
        };
        const auto contrast = [&](const QColor& a, const QColor& b) {
            const auto [low, high] = std::minmax({luminance(a), luminance(b)});
            return (high + 0.05) / (low + 0.05);
        };
        for (const QColor& ground : {p.paper, p.sheet})
            for (const QColor& word : {p.ink, p.faint, p.action, p.caution, p.fault, p.pass})
                QVERIFY2(contrast(word, ground) >= 4.5,
                         qPrintable(word.name() + QStringLiteral(" on ") + ground.name()));
        QVERIFY(contrast(p.on_action, p.action) >= 4.5);
        QVERIFY(contrast(p.faint, p.margin) >= 4.5);
        for (const QColor& candidate : p.candidates)
            QVERIFY2(contrast(candidate, p.sheet) >= 4.5, qPrintable(candidate.name()));
        Theme::apply(*qobject_cast<QApplication*>(QCoreApplication::instance()), ThemeName::Paper);
    }
};

HR_TEST(tst_widgets)
#include "tst_widgets.moc"
