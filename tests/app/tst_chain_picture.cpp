// SPDX-License-Identifier: GPL-3.0-or-later
//
// The picture of a chain by itself: where things stand in it, what keys, wheel, drags and drops make of it, and
// that it is drawn in both themes, however long it is.
#include "chain/chains.h"
#include "chain/edit.h"
#include "support/fixtures.h"
#include "widgets/chain_painter.h"
#include "widgets/chain_picture.h"

#include <QApplication>
#include <QDropEvent>
#include <QMimeData>
#include <QSignalSpy>

using namespace hr;
using namespace hr::app;

class tst_chain_picture : public QObject {
    Q_OBJECT

    static std::vector<ChainCard> cardsOf(const chain::Chain& chain)
    {
        std::vector<ChainCard> cards;
        for (const chain::Node& node : chain.nodes) {
            ChainCard card;
            card.id = QString::fromStdString(node.id);
            card.title = QStringLiteral("stage ") + card.id;
            card.is_stage = node.kind == chain::NodeKind::Stage;
            card.blend_percent = node.blend_percent;
            if (card.is_stage) {
                processors::ParameterInfo gain;
                gain.key = "gain_db";
                gain.name = "Gain";
                gain.unit = "dB";
                gain.minimum = -24;
                gain.maximum = 24;
                card.values = {{gain, 0}, {gain, 12}};
            }
            cards.push_back(card);
        }
        return cards;
    }
    static void show(ChainPicture& picture, const chain::Chain& chain)
    {
        auto drawing = chain::drawingOf(chain);
        HR_VERIFY(drawing);
        picture.setChain(std::move(*drawing), cardsOf(chain));
        picture.show();
    }
    static chain::Chain of(std::size_t stages)
    {
        return test::series("c", std::vector<std::string>(stages, "reference:gain"));
    }
    static void wheel(ChainPicture& picture, int notches, Qt::KeyboardModifiers modifiers)
    {
        QWheelEvent event({10, 10}, picture.mapToGlobal(QPointF(10, 10)), {}, {0, 120 * notches}, Qt::NoButton,
                          modifiers, Qt::NoScrollPhase, false);
        QApplication::sendEvent(&picture, &event);
    }

private slots:
    void keysWalkAlongIt()
    {
        ChainPicture picture(QStringLiteral("x/ids"));
        show(picture, of(5));
        picture.choose(QStringLiteral("s2"));
        QTest::keyClick(&picture, Qt::Key_End);
        QCOMPARE(picture.current(), QStringLiteral("s5"));
        QTest::keyClick(&picture, Qt::Key_Right); // there is nothing behind the last
        QCOMPARE(picture.current(), QStringLiteral("s5"));
        QTest::keyClick(&picture, Qt::Key_Left, Qt::ShiftModifier);
        QCOMPARE(picture.chosen(), (QStringList{QStringLiteral("s4"), QStringLiteral("s5")}));
        QTest::keyClick(&picture, Qt::Key_Home);
        QCOMPARE(picture.chosen(), QStringList{QStringLiteral("s1")});
        const QSignalSpy opened(&picture, &ChainPicture::opened);
        QTest::keyClick(&picture, Qt::Key_Return);
        QCOMPARE(opened.count(), 1);
        QVERIFY(picture.accessibleDescription().contains(QStringLiteral("stage s1")));
        // What goes takes its choice with it; what stays stays chosen.
        picture.chooseAll();
        show(picture, *chain::remove(of(5), {"s1", "s3"}));
        QCOMPARE(picture.chosen().size(), 3);
        QVERIFY(picture.chosen().contains(picture.current()));
    }

    void theWheelZoomsWithinBounds()
    {
        ChainPicture picture(QStringLiteral("x/ids"));
        show(picture, of(3));
        const double width = picture.sizeHint().width();
        const QPointF middle = picture.placeOf(QStringLiteral("s2")).center();
        wheel(picture, 3, Qt::NoModifier); // that one scrolls
        QCOMPARE(picture.sizeHint().width(), int(width));
        wheel(picture, 2, Qt::ControlModifier);
        QVERIFY(picture.sizeHint().width() > 1.15 * width);
        QVERIFY(picture.placeOf(QStringLiteral("s2")).center().x() > middle.x());
        for (int i = 0; i < 50; ++i)
            wheel(picture, 5, Qt::ControlModifier);
        QVERIFY(picture.sizeHint().width() < 2 * width);
        for (int i = 0; i < 50; ++i)
            wheel(picture, -5, Qt::ControlModifier);
        QVERIFY(picture.sizeHint().width() > 0.4 * width);
        HR_NEAR(picture.middleOf("s2"), picture.placeOf(QStringLiteral("s2")).center().x(), 1);
    }

    void clicksChooseSeveral()
    {
        ChainPicture picture(QStringLiteral("x/ids"));
        show(picture, of(4));
        const auto click = [&](const char* id, Qt::KeyboardModifiers modifiers = {}) {
            QTest::mouseClick(&picture, Qt::LeftButton, modifiers, picture.placeOf(QLatin1String(id)).center());
        };
        click("s2");
        click("s4", Qt::ControlModifier);
        QCOMPARE(picture.chosen(), (QStringList{QStringLiteral("s2"), QStringLiteral("s4")}));
        click("s2", Qt::ControlModifier);
        QCOMPARE(picture.chosen(), QStringList{QStringLiteral("s4")});
        // On a value, too, where others are to be chosen; else it is taken hold of.
        const QRect place = picture.placeOf(QStringLiteral("s1"));
        const QPoint on_value(place.center().x(), place.bottom() - 12);
        QTest::mouseClick(&picture, Qt::LeftButton, Qt::ControlModifier, on_value);
        QCOMPARE(picture.chosen().size(), 2);
        const QSignalSpy asked(&picture, &ChainPicture::valueRequested);
        QTest::mouseDClick(&picture, Qt::LeftButton, {}, on_value);
        QCOMPARE(asked.count(), 1);
        QCOMPARE(asked.front().at(1).toString(), QStringLiteral("gain_db"));
        click("s3");
        QTest::mouseClick(&picture, Qt::LeftButton, {}, {picture.width() - 2, 2}); // beside everything
        QVERIFY(picture.chosen().isEmpty());
    }

    void escapeLetsGo()
    {
        ChainPicture picture(QStringLiteral("x/ids"));
        show(picture, of(3));
        const QSignalSpy led(&picture, &ChainPicture::leadRequested);
        const QSignalSpy moved(&picture, &ChainPicture::moveRequested);
        const QPoint end = picture.chainLayout()
                               .endPoint({*picture.chainLayout().pathBehind(QStringLiteral("s1")), true})
                               .toPoint();
        const QPoint to = picture.placeOf(QStringLiteral("s3")).center();
        const auto drag = [&](const QPoint& from, bool escapes) {
            QTest::mousePress(&picture, Qt::LeftButton, {}, from);
            for (const QPoint& at : {from + QPoint(25, 5), to}) {
                QMouseEvent move(QEvent::MouseMove, at, picture.mapToGlobal(at), Qt::NoButton, Qt::LeftButton,
                                 {});
                QApplication::sendEvent(&picture, &move);
            }
            (void)picture.grab(); // what is held is drawn
            if (escapes)
                QTest::keyClick(&picture, Qt::Key_Escape);
            QTest::mouseRelease(&picture, Qt::LeftButton, {}, to);
        };
        drag(end, true);
        drag(picture.placeOf(QStringLiteral("s1")).center(), true);
        QCOMPARE(led.count() + moved.count(), 0);
        drag(end, false);
        QCOMPARE(led.count(), 1);
        QCOMPARE(led.front().at(2).toString(), QStringLiteral("s3"));
        drag(picture.placeOf(QStringLiteral("s1")).center(), false);
        QCOMPARE(moved.count(), 1);
    }

    void processorsAreDroppedOnPaths()
    {
        ChainPicture picture(QStringLiteral("x/ids"));
        show(picture, of(2));
        const QSignalSpy dropped(&picture, &ChainPicture::processorsDropped);
        QMimeData ids;
        ids.setData(QStringLiteral("x/ids"), "reference:gain\nreference:low-pass");
        QMimeData other;
        other.setText(QStringLiteral("nothing for it"));
        const auto enter = [&](const QMimeData& what) {
            QDragEnterEvent event({10, 10}, Qt::CopyAction, &what, Qt::LeftButton, {});
            event.ignore();
            QApplication::sendEvent(&picture, &event);
            return event.isAccepted();
        };
        QVERIFY(enter(ids) && !enter(other));
        const auto behind = *picture.chainLayout().pathBehind(QStringLiteral("s1"));
        QDropEvent drop(picture.chainLayout().addPoint(picture.chainLayout().drawing().paths[behind]),
                        Qt::CopyAction, &ids, Qt::LeftButton, {});
        QApplication::sendEvent(&picture, &drop);
        QCOMPARE(dropped.count(), 1);
        QCOMPARE(dropped.front().at(0).toStringList().size(), 2);
        QCOMPARE(dropped.front().at(1).value<std::size_t>(), behind);
    }

    /// Whatever is done to it, what can be touched lies where it is looked for.
    void whatCanBeTouchedIsFound()
    {
        chain::Chain chain = of(4);
        for (const auto& edited :
             {chain::splitIntoBands(chain, "s2", {250, 2500}, 1), chain::splitIntoMidAndSide(chain, "s3"),
              chain::sendFrom(chain, "s1", chain.nodes[0]), chain::keyFrom(chain, "s4", "s1"),
              chain::putBeside(chain, "s2", chain.nodes[1])}) {
            HR_VERIFY(edited);
            const ChainLayout layout(*chain::drawingOf(*edited), cardsOf(*edited));
            for (const ChainCard& card : layout.cards()) {
                const QRectF box = layout.boxOf(*layout.node(card.id));
                QVERIFY(QRectF(QPointF(), layout.size()).contains(box));
                QCOMPARE(layout.nodeAt(box.center()), card.id);
                for (std::size_t i = 0; i < card.values.size(); ++i) {
                    const QRectF value = layout.valueBox(box, card, i);
                    QVERIFY(box.contains(value));
                    const auto found = layout.valueAt(value.center());
                    QVERIFY(found && found->id == card.id && found->value == i);
                }
            }
            for (std::size_t p = 0; p < layout.drawing().paths.size(); ++p)
                for (const bool arrives : {true, false})
                    QVERIFY(layout.endAt(layout.endPoint({p, arrives}), 1));
            QCOMPARE(layout.placeAt(layout.boxOf(layout.drawing().nodes.back()).center()),
                     QStringLiteral("out"));
        }
    }

    void itIsDrawnInBothThemes()
    {
        ChainPicture picture(QStringLiteral("x/ids"));
        chain::Chain chain = of(40);
        chain.nodes[7].blend_percent = 30;
        show(picture, chain);
        picture.choose(QStringLiteral("s1"));
        const auto shades = [&] {
            const QImage image = picture.grab(QRect(0, 0, 600, picture.height())).toImage();
            QSet<QRgb> found;
            for (int x = 0; x < image.width(); x += 3)
                for (int y = 0; y < image.height(); ++y)
                    found.insert(image.pixel(x, y));
            return found;
        };
        const auto paper = shades();
        Theme::apply(*qApp, ThemeName::Lamplight);
        const auto lamplight = shades();
        Theme::apply(*qApp, ThemeName::Paper);
        QVERIFY(paper.contains(Theme::paletteOf(ThemeName::Paper).action.rgb()));
        QVERIFY(lamplight.contains(Theme::paletteOf(ThemeName::Lamplight).action.rgb()));
        QVERIFY(paper.size() > 8 && lamplight.size() > 8);
    }
};

HR_TEST(tst_chain_picture)
#include "tst_chain_picture.moc"
