// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/measure/figures_table.h"
#include "support/fixtures.h"
#include "theme/theme.h"
#include "widgets/basics.h"
#include "widgets/candidate_mark.h"
#include "widgets/fair_line.h"
#include "widgets/parameter_row.h"
#include "widgets/plot.h"
#include "widgets/search_popup.h"
#include "widgets/shaped_texts.h"
#include "widgets/waveform_view.h"

#include <QApplication>
#include <QClipboard>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPainter>
#include <QPointer>
#include <QSet>
#include <QSignalSpy>

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

    void onlyDifferencesBeyondTheUncertaintyAreMarked()
    {
        const auto candidate = [](int mark, double gain_db, double corner_hz) {
            library::StoredReading stored;
            stored.test = QStringLiteral("response");
            stored.reading.figures = {{"gain_1k_db", gain_db}, {"corner_high_hz", corner_hz}};
            return MeasuredCandidate{mark, QStringLiteral("x"), {}, {stored}, false};
        };
        FiguresTable table;
        const MeasuredCandidate unasked{4, QStringLiteral("x"), {}, {}, false};
        table.fill({candidate(1, 1.00, 1000), candidate(2, 1.03, 1015), candidate(3, 1.05, 1025), unasked},
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

    /// Headings are passed over, by keys and by the mouse.
    void aSearchTakesWhatCanBeTaken()
    {
        QWidget window;
        window.resize(400, 300);
        window.show();
        QPointer popup(new SearchPopup(QStringLiteral("type"), QStringLiteral("what"), {300, 200}, &window));
        const auto row = [&](const char* text, bool can_be_taken) {
            auto* item = new QListWidgetItem(QLatin1String(text), &popup->list());
            if (!can_be_taken)
                item->setFlags(Qt::NoItemFlags);
        };
        row("a heading", false);
        row("first", true);
        row("another heading", false);
        row("second", true);
        QSignalSpy typed(popup, &SearchPopup::typed);
        QStringList taken;
        connect(popup, &SearchPopup::taken, this, [&](QListWidgetItem* item) { taken << item->text(); });
        popup->openAt(window.mapToGlobal(QPoint(10, 10)));
        popup->beginAtTop();
        QTest::keyClicks(&popup->edit(), QStringLiteral("ab"));
        QCOMPARE(typed.count(), 2);
        QTest::keyClick(&popup->edit(), Qt::Key_Return);
        QTest::keyClick(&popup->edit(), Qt::Key_Down);
        QTest::keyClick(&popup->edit(), Qt::Key_Down); // there is no third
        QTest::keyClick(&popup->edit(), Qt::Key_Return);
        QTest::keyClick(&popup->edit(), Qt::Key_Up);
        QTest::keyClick(&popup->edit(), Qt::Key_Return);
        const auto click = [&](int at) {
            QTest::mouseClick(popup->list().viewport(), Qt::LeftButton, {},
                              popup->list().visualItemRect(popup->list().item(at)).center());
        };
        click(2);
        click(3);
        QCOMPARE(taken, (QStringList{QStringLiteral("first"), QStringLiteral("second"), QStringLiteral("first"),
                                     QStringLiteral("second")}));
        popup->close();
        QTRY_VERIFY(!popup);
    }
};

HR_TEST(tst_widgets)
#include "tst_widgets.moc"
