// SPDX-License-Identifier: GPL-3.0-or-later
//
// The search in memory, against plain scans of the same data.
#include "library/find/finder.h"
#include "library/find/marks.h"
#include "support/fixtures.h"

#include <functional>
#include <random>
#include <set>

using namespace hr;
using namespace hr::library;

namespace {

/// Letters missing, too many, wrong or swapped, straight from the definition.
int slips(const QString& a, const QString& b)
{
    if (a.isEmpty() || b.isEmpty())
        return static_cast<int>(a.size() + b.size());
    const QString ra = a.chopped(1);
    const QString rb = b.chopped(1);
    int least = std::min({slips(ra, b) + 1, slips(a, rb) + 1, slips(ra, rb) + (a.back() == b.back() ? 0 : 1)});
    if (a.size() > 1 && b.size() > 1 && a.back() == rb.back() && ra.back() == b.back())
        least = std::min(least, slips(ra.chopped(1), rb.chopped(1)) + 1);
    return least;
}

Entry entryOf(int number, const QString& name, const QString& maker, const QString& kind)
{
    Entry entry;
    entry.id = QString::number(number);
    entry.name = name;
    entry.maker = maker;
    entry.kind = kind;
    entry.format = QStringLiteral("LV2");
    entry.audio_in = entry.audio_out = 2;
    return entry;
}

} // namespace

class tst_find : public QObject {
    Q_OBJECT

    std::mt19937 m_random{5};

    QString anyOf(const QStringList& list) { return list[static_cast<qsizetype>(m_random()) % list.size()]; }

    std::vector<Entry> someEntries(int count)
    {
        const QStringList words{QStringLiteral("tern"),  QStringLiteral("gull"), QStringLiteral("level"),
                                QStringLiteral("lever"), QStringLiteral("glow"), QStringLiteral("lantern"),
                                QStringLiteral("tidal"), QStringLiteral("pool"), QStringLiteral("Été")};
        std::vector<Entry> entries;
        for (int i = 0; i < count; ++i) {
            entries.push_back(
                entryOf(i, anyOf(words) + QLatin1Char(' ') + anyOf(words), anyOf(words), anyOf(words)));
            if (m_random() % 3 == 0)
                entries.back().tags << anyOf(words);
            if (m_random() % 4 == 0)
                entries.back().rating = static_cast<int>(m_random() % 6);
            entries.back().favourite = m_random() % 5 == 0;
        }
        return entries;
    }
    static QStringList textsOf(const Entry& e)
    {
        return foldedWords(e.name + QLatin1Char(' ') + e.alias + QLatin1Char(' ') + e.maker + QLatin1Char(' ') +
                           e.kind + QLatin1Char(' ') + e.note + QLatin1Char(' ') +
                           e.tags.join(QLatin1Char(' ')));
    }
    /// What find() must answer, by looking at everything.
    static std::set<int> plainly(const std::vector<Entry>& entries, const QString& typed)
    {
        const auto holds = [&](const std::function<bool(const QString&)>& is) {
            std::set<int> found;
            for (std::size_t i = 0; i < entries.size(); ++i)
                for (const QString& one : textsOf(entries[i]))
                    if (is(one))
                        found.insert(static_cast<int>(i));
            return found;
        };
        std::set<int> all;
        for (std::size_t i = 0; i < entries.size(); ++i)
            all.insert(static_cast<int>(i));
        for (const QString& word : foldedWords(typed)) {
            auto found = holds([&](const QString& one) { return one.startsWith(word); });
            if (found.empty())
                found = holds([&](const QString& one) { return slipsInto(word, one); });
            std::erase_if(all, [&](int i) { return !found.contains(i); });
        }
        return all;
    }
    static std::set<int> rowsOf(const Finder& finder, const Query& asked)
    {
        const auto rows = finder.find(asked).rows;
        return {rows.begin(), rows.end()};
    }

private slots:
    void whatWasSearchedForIsMarked()
    {
        const QString text = QStringLiteral("Lantern light, enlightened LIGHT");
        QCOMPARE(marksIn(text, {QStringLiteral("light")}), (std::vector<Mark>{{8, 5}, {27, 5}}));
        QVERIFY(marksIn(text, {QString(), QStringLiteral("ght")}).empty());
        const QString note =
            QStringLiteral("Heard on the ferry at night, where it was warm beside the engine and much "
                           "too loud in the saloon");
        const Mark warm = marksIn(note, {QStringLiteral("warm")}).front();
        QCOMPARE(around(note, warm), QStringLiteral("…it was warm beside the engine and much…"));
        QCOMPARE(around(QStringLiteral("for trimming trumpets"), {13, 8}),
                 QStringLiteral("for trimming trumpets"));
        const QString endless(200, QLatin1Char('x'));
        QCOMPARE(around(endless, {0, 60}), endless.left(60) + QChar(0x2026));
    }

    void wordsAreFolded()
    {
        QCOMPARE(foldedWords(QStringLiteral("Crème-BRÛLÉE 2×(ä)")),
                 (QStringList{QStringLiteral("creme"), QStringLiteral("brulee"), QStringLiteral("2"),
                              QStringLiteral("a")}));
        QVERIFY(foldedWords(QStringLiteral("\"*()-: ")).isEmpty());
        QCOMPARE(foldedWords(QStringLiteral("שלום e\u0301te\u0301")).size(), 2);
    }

    void slipsAreThoseOfTheDefinition()
    {
        for (int round = 0; round < 600; ++round) {
            QString typed;
            QString word;
            for (unsigned i = 0; i < 1 + m_random() % 7; ++i)
                typed += QChar(u'a' + static_cast<int>(m_random() % 3));
            for (unsigned i = 0; i < 1 + m_random() % 8; ++i)
                word += QChar(u'a' + static_cast<int>(m_random() % 3));
            int nearest = 99;
            for (qsizetype length = 0; length <= word.size(); ++length)
                nearest = std::min(nearest, slips(typed, word.first(length)));
            QCOMPARE(slipsInto(typed, word), nearest <= forgivenSlips(typed.size()));
        }
    }

    void findingAgreesWithAPlainScan()
    {
        auto entries = someEntries(150);
        Finder finder;
        finder.fill(entries, {});
        const QStringList typed{
            QStringLiteral("tern"), QStringLiteral("lantren"), QStringLiteral("le te"),
            QStringLiteral("gul"),  QStringLiteral("tidl"),    QStringLiteral("ete glow"),
            QStringLiteral("zzzz"), QStringLiteral("p l"),     QStringLiteral("leevr pool")};
        for (int round = 0; round < 300; ++round) {
            if (round % 3 == 0) { // something is written about one
                Entry& changed = entries[m_random() % entries.size()];
                changed.alias = anyOf(typed);
                changed.note = anyOf(typed);
                finder.replace(changed, {});
            }
            const QString text = anyOf(typed);
            QCOMPARE(rowsOf(finder, {text, {}}), plainly(entries, text));
        }
    }

    void facetsAgreeWithAPlainScan()
    {
        const auto entries = someEntries(150);
        Finder finder;
        finder.fill(entries, {});
        const auto valuesOf = [](const Entry& e, Facet facet) {
            return facet == Facet::Kind    ? QStringList{e.kind}
                   : facet == Facet::Maker ? QStringList{e.maker}
                                           : e.tags;
        };
        const auto agrees = [&](const Entry& e, const std::vector<FacetChoice>& choices,
                                std::optional<Facet> but) {
            for (const Facet facet : {Facet::Kind, Facet::Maker, Facet::Tag}) {
                bool any = false;
                bool wanted = false;
                for (const FacetChoice& c : choices)
                    if (c.facet == facet && facet != but) {
                        const bool has = valuesOf(e, facet).contains(c.value);
                        if (c.negated && has)
                            return false;
                        any = any || !c.negated;
                        wanted = wanted || (!c.negated && has);
                    }
                if (any && !wanted)
                    return false;
            }
            return true;
        };
        for (int round = 0; round < 200; ++round) {
            std::vector<FacetChoice> choices;
            for (unsigned i = 0; i < m_random() % 4; ++i) {
                const Facet facet = std::array{Facet::Kind, Facet::Maker, Facet::Tag}[m_random() % 3];
                const QStringList values = valuesOf(entries[m_random() % entries.size()], facet);
                if (!values.isEmpty())
                    choices.push_back({facet, values.front(), m_random() % 3 == 0});
            }
            // The same value wanted and not wanted: the last word counts, as in the interface there is only
            // one.
            for (std::size_t i = 0; i < choices.size(); ++i)
                for (std::size_t j = choices.size(); j-- > i + 1;)
                    if (choices[i].facet == choices[j].facet && choices[i].value == choices[j].value)
                        choices.erase(choices.begin() + static_cast<std::ptrdiff_t>(j));
            const auto found = finder.find({QStringLiteral("l"), choices});
            const auto by_text = plainly(entries, QStringLiteral("l"));
            std::set<int> expected;
            for (const int i : by_text)
                if (agrees(entries[static_cast<std::size_t>(i)], choices, {}))
                    expected.insert(i);
            QCOMPARE(std::set<int>(found.rows.begin(), found.rows.end()), expected);
            for (const Facet facet : {Facet::Kind, Facet::Maker, Facet::Tag})
                for (const FacetCount& count : found.counts[static_cast<std::size_t>(facet)]) {
                    int plain = 0;
                    for (const int i : by_text)
                        if (agrees(entries[static_cast<std::size_t>(i)], choices, facet))
                            plain += static_cast<int>(
                                valuesOf(entries[static_cast<std::size_t>(i)], facet).count(count.value));
                    QCOMPARE(count.count, plain);
                }
        }
    }

    void theBestComesFirst()
    {
        std::vector<Entry> entries{entryOf(0, QStringLiteral("Gull"), QStringLiteral("Tern Works"), {}),
                                   entryOf(1, QStringLiteral("Ternary"), {}, {}),
                                   entryOf(2, QStringLiteral("Tern"), {}, {})};
        entries[0].note = QStringLiteral("a tern");
        Finder finder;
        finder.fill(entries, {});
        QCOMPARE(finder.find({QStringLiteral("tern"), {}}).rows, (std::vector<int>{2, 1, 0}));
        const auto forgiven = finder.find({QStringLiteral("trenary"), {}});
        QCOMPARE(forgiven.rows, std::vector<int>{1});
        QCOMPARE(forgiven.understood_as, QStringList{QStringLiteral("ternary")});
    }

    void ordersAreWhatTheySay()
    {
        const auto entries = someEntries(60);
        Finder finder;
        finder.fill(entries, {});
        const auto at = [&](int i) -> const Entry& { return entries[static_cast<std::size_t>(i)]; };
        const auto sorted = [&](const Order& order, auto ordered) {
            const auto rows = finder.find({{}, {}, order}).rows;
            return std::ranges::is_sorted(rows, [&](int a, int b) { return ordered(at(a), at(b)); });
        };
        QVERIFY(sorted({Order::Maker}, [](const Entry& a, const Entry& b) { return a.maker < b.maker; }));
        QVERIFY(sorted({Order::Kind}, [](const Entry& a, const Entry& b) { return a.kind < b.kind; }));
        QVERIFY(sorted({Order::Rating}, [](const Entry& a, const Entry& b) { return a.rating > b.rating; }));
    }
};

HR_TEST(tst_find)
#include "tst_find.moc"
