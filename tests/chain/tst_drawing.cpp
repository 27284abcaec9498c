// SPDX-License-Identifier: GPL-3.0-or-later
//
// Where the parts of a chain stand when it is drawn, and which stages stand where their kind rarely helps.
#include "chain/chains.h"
#include "chain/drawing.h"
#include "chain/edit.h"
#include "chain/placement.h"
#include "support/fixtures.h"

#include <random>

using namespace hr;
using namespace hr::chain;

class tst_drawing : public QObject {
    Q_OBJECT

    static int laneOf(const Drawing& drawing, const std::string& id)
    {
        return std::ranges::find(drawing.nodes, id, &DrawnNode::id)->lane;
    }
    /// "limiter-before-level" of the stages of these kinds.
    static std::vector<std::string> remarks(const std::vector<std::string>& kinds)
    {
        std::vector<std::string> rules;
        for (const auto& remark :
             placementRemarks(test::series("kinds", kinds), [](const std::string& kind) { return kind; }))
            rules.push_back(remark.node + " " + remark.rule + " " + remark.beside);
        return rules;
    }
    using Rules = std::vector<std::string>;

private slots:
    void aPlainChainIsOneLane()
    {
        const auto drawing = drawingOf(test::series("plain", {"a", "b"}));
        HR_VERIFY(drawing);
        QCOMPARE(drawing->lanes, 1);
        QCOMPARE(drawing->nodes.size(), std::size_t{4});
        QCOMPARE(drawing->nodes.back().id, std::string("out"));
        QCOMPARE(drawing->paths.size(), std::size_t{3});
        QCOMPARE(drawingOf({})->nodes.size(), std::size_t{2});
    }

    void whatIsBesideGoesBelow()
    {
        Node other;
        other.processor = "z";
        const auto chain = putBeside(test::series("plain", {"a", "b", "c"}), "s2", other);
        HR_VERIFY(chain);
        const auto drawing = drawingOf(*chain);
        HR_VERIFY(drawing);
        QCOMPARE(drawing->lanes, 2);
        for (const Node& node : chain->nodes) {
            const bool beside = node.processor == "z" || node.kind == NodeKind::Branch;
            QCOMPARE(laneOf(*drawing, node.id), beside ? 1 : 0);
        }
        Chain looped = *chain;
        looped.edges.push_back({"s3", "", "s1", ""});
        QVERIFY(!drawingOf(looped));
    }

    /// In its lane a path passes no node, and meets no other path.
    void noPathRunsThroughANode()
    {
        std::mt19937 random(11);
        Chain chain = test::series("many", {"a", "b", "c"});
        for (int i = 0; i < 40; ++i) {
            std::vector<std::string> stages;
            for (const Node& node : chain.nodes)
                if (node.kind == NodeKind::Stage)
                    stages.push_back(node.id);
            const std::string& at = stages[random() % stages.size()];
            Node added;
            added.processor = "p";
            const auto edited = random() % 4 == 0   ? splitIntoBands(chain, at, {200, 2000}, random() % 3)
                                : random() % 3 == 0 ? splitIntoMidAndSide(chain, at)
                                : random() % 2 == 0 ? putBeside(chain, at, added)
                                                    : sendFrom(chain, at, added);
            if (edited)
                chain = *edited;
            const auto drawing = drawingOf(chain);
            HR_VERIFY(drawing);
            for (const DrawnPath& path : drawing->paths) {
                QVERIFY(path.from_column < path.to_column);
                for (const DrawnNode& node : drawing->nodes)
                    QVERIFY(node.lane != path.lane || node.column <= path.from_column ||
                            node.column >= path.to_column);
                for (const DrawnPath& other : drawing->paths)
                    QVERIFY(&other == &path || other.lane != path.lane || other.from_column >= path.to_column ||
                            other.to_column <= path.from_column);
            }
        }
        QVERIFY(chain.nodes.size() > 40);
    }

    void stagesThatStandOddlyAreRemarkedUpon()
    {
        QCOMPARE(remarks({"equaliser", "compressor", "saturation", "reverb", "limiter", "utility"}), Rules());
        QCOMPARE(remarks({"limiter", "utility", "equaliser"}), Rules{"s1 limiter-before-level s3"});
        QCOMPARE(remarks({"reverb", "compressor", "gate"}),
                 (Rules{"s2 compressor-behind-space s1", "s3 gate-behind-space s1"}));
        QCOMPARE(remarks({"distortion", "pitch", "restoration"}),
                 (Rules{"s2 pitch-behind-effects s1", "s3 restoration-late s1"}));
        Chain blended = test::series("blended", {"reverb", "compressor"});
        blended.nodes[0].blend_percent = 20;
        QVERIFY(placementRemarks(blended, [](const std::string& kind) { return kind; }).empty());
    }
};

HR_TEST(tst_drawing)
#include "tst_drawing.moc"
