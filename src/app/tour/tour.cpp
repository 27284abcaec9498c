// SPDX-License-Identifier: GPL-3.0-or-later
#include "tour/tour.h"

#include "pages/find/find_page.h"
#include "pages/keep/keep_page.h"
#include "pages/measure/measure_page.h"
#include "pages/measure/sweep_view.h"
#include "widgets/plot.h"

#include <QDir>
#include <QPixmap>
#include <array>

namespace hr::app {

namespace {

const QString specimen = QStringLiteral("lv2:urn:honest-rack:specimens:");
const QString leveller = specimen + QStringLiteral("cordage-leveller");
const QString saturator = specimen + QStringLiteral("lantern-saturator");
const QString equaliser = specimen + QStringLiteral("tidepool-equaliser");
const QString room = specimen + QStringLiteral("boathouse");

constexpr int until_it_is_drawn_ms = 400;
constexpr int until_there_is_a_history_ms = 5000;

} // namespace

Tour::Tour(Desk& desk, MainWindow& window, QString folder, QStringList only)
    : m_desk(desk), m_window(window), m_folder(std::move(folder)), m_only(std::move(only))
{
    connect(&m_steps, &Steps::finished, this, &Tour::finished);
    prepare();
    find();
    listen();
    blindTrials();
    measure();
    build();
    keepAndWrite();
    m_steps.then([this] { m_desk.transport.play(false); });
}

void Tour::stop(const char* name, PageName page, const std::function<void()>& come)
{
    if (!wants(name))
        return;
    m_steps.then([this, page] { m_window.showPage(page); }); // single pictures do not come from the one before
    come();
    m_steps.pause(until_it_is_drawn_ms);
    m_steps.attempt([this, name = QLatin1String(name)] { return picture(name); });
}

Result<void> Tour::picture(const QString& name) const
{
    if (!QDir().mkpath(m_folder) ||
        !m_window.grab().save(m_folder + QLatin1Char('/') + name + QStringLiteral(".png")))
        return machineFailed("The tour cannot save pictures in " + m_folder.toStdString() +
                             ": can it be written?");
    return {};
}

/// Three candidates, measured and matched, and the first of them playing.
void Tour::prepare()
{
    const auto measured = [this] { return m_desk.bench.waiting() == 0; };
    m_window.resize(1280, 800);
    m_steps.wait("the scan and the source",
                 [this] { return !m_desk.scan.isRunning() && m_desk.transport.source() != nullptr; });
    m_steps.then([this] {
        LineUp& line_up = m_desk.line_up;
        while (!line_up.candidates().empty())
            line_up.remove(line_up.candidates().front().id);
        m_first = line_up.add(leveller, {{"threshold_db", -30}, {"ratio", 4}, {"makeup_db", 8}});
        line_up.add(saturator, {{"drive_db", 12}, {"colour_percent", 60}});
        line_up.add(equaliser, {{"low_db", -4},
                                {"bell1_hz", 350},
                                {"bell1_db", -3},
                                {"bell2_hz", 3200},
                                {"bell2_db", 4},
                                {"high_db", 2}});
        QStringList of_the_first{QStringLiteral("response"),      QStringLiteral("harmonics"),
                                 QStringLiteral("transfer"),      QStringLiteral("timing"),
                                 QStringLiteral("noise"),         QStringLiteral("cost"),
                                 QStringLiteral("loudness_shift")};
        if (wants("measure-trust")) // it takes half a minute
            of_the_first << QStringLiteral("trust");
        for (const Contender& contender : line_up.candidates())
            m_desk.bench.measure(contender, contender.id == m_first ? of_the_first : QStringList());
        if (wants("find-map"))
            m_desk.bench.measureInBackground(
                {specimen + QStringLiteral("tallow-clipper"), specimen + QStringLiteral("deep-keel"),
                 QStringLiteral("reference:hard-clip"), QStringLiteral("reference:low-pass"),
                 QStringLiteral("reference:compressor")});
    });
    m_steps.wait("the line-up's measurements", measured);
    m_steps.then([this] {
        QStringList in_sight;
        for (int row = 0; row < 12; ++row)
            in_sight << m_desk.processors.index(row, 0).data(ProcessorModel::EntryId).toString();
        if (wants("find") || wants("find-map"))
            m_desk.bench.measureInBackground(in_sight);
        m_desk.notebook.write({leveller, saturator}, QString(), [](library::Written& w) {
            w.tags = {tr("brass bus")};
            w.rating = 4;
            w.favourite = true;
        });
    });
    m_steps.wait("the measurements", measured);
    m_steps.wait("the matching", [this] { return m_desk.line_up.fairWithinLu().has_value(); });
    m_steps.then([this] {
        m_desk.line_up.hear(m_first);
        m_window.showNotice({});
        m_desk.transport.play(true);
    });
    m_steps.pause(2600);
}

void Tour::find()
{
    const auto select = [this](const QString& id) {
        m_window.findPage()->setSearchText(QString());
        m_window.findPage()->select(id);
    };
    stop("find", PageName::Find, [this, select] { m_steps.then([select] { select(leveller); }); });
    stop("find-map", PageName::Find, [this] {
        m_steps.then([this] { m_window.findPage()->showMap(); });
        m_steps.pause(1500);
    });
    stop("find-quarantine", PageName::Find, [this, select] {
        m_steps.then([this, select] {
            select(specimen + QStringLiteral("stormglass"));
            if (wants("find-map"))
                m_desk.actions.run(QStringLiteral("find.map")); // the list again
        });
    });
    stop("find-presets", PageName::Find, [this, select] {
        m_steps.then([this, select] {
            select(leveller);
            (void)m_desk.store->presets.save(leveller, tr("Parade"), tr("Ferry"), {{"ratio", 3}});
            (void)m_desk.store->presets.save(leveller, tr("Quiet deck"), tr("Ferry"), {{"ratio", 2}});
            m_window.findPage()->showPart(2);
        });
    });
}

void Tour::listen()
{
    stop("listen", PageName::Listen, [] {});
    stop("listen-meters", PageName::Listen, [this] {
        m_steps.then([this] {
            m_desk.actions.run(QStringLiteral("meters"));
            m_desk.transport.setMonitor({.band = audition::Band{200, 2000}});
            m_desk.transport.hearDifference(true);
        });
        m_steps.pause(until_there_is_a_history_ms);
    });
    m_steps.then([this] {
        m_desk.transport.setMonitor({});
        m_desk.transport.hearDifference(false);
    });
}

void Tour::blindTrials()
{
    AbxTrial& abx = m_desk.trials.abx;
    stop("trial", PageName::Listen, [this, &abx] {
        m_steps.then([this, &abx] { abx.begin(m_first, LineUp::untreated, 16); });
        m_steps.wait("the trial", [&abx] { return abx.stage() == AbxTrial::Stage::Asking; });
        m_steps.then([&abx] {
            for (int round = 0; round < 6; ++round)
                abx.answer(abx.sheet().xIsSecond());
            abx.hear(AbxTrial::Which::X);
        });
    });
    stop("trial-result", PageName::Listen, [this, &abx] {
        m_steps.then([&abx] {
            while (!abx.sheet().isOver())
                abx.answer(abx.sheet().answered() % 3 == 0);
        });
    });
    RatingTrial& rating = m_desk.trials.rating;
    stop("trial-rating", PageName::Listen, [this, &rating] {
        m_steps.then([this, &rating] { rating.begin({m_first}, 3); });
        m_steps.wait("the trial", [&rating] { return rating.stage() == BlindTrial::Stage::Asking; });
        m_steps.then([&rating] {
            for (const auto& grades : {std::array{97, 22, 51, 78}, {100, 18, 44, 70}, {94, 25, 55, 84}}) {
                std::vector<int> of_labels;
                for (std::size_t label = 0; label < rating.labels(); ++label) {
                    rating.hear(label);
                    of_labels.push_back(grades[rating.sheet().behind(label)]);
                }
                rating.grade(of_labels);
            }
        });
    });
    m_steps.then([this] {
        if (BlindTrial* shown = m_desk.trials.current())
            shown->putAway();
    });
}

void Tour::measure()
{
    stop("measure", PageName::Measure, [this] {
        m_steps.pause(100);
        m_steps.then([this] { m_window.measurePage()->responsePlot()->setCursor(3200); });
    });
    const auto show = [this](const char* name, const QString& test) {
        stop(name, PageName::Measure,
             [this, test] { m_steps.then([this, test] { m_window.measurePage()->showTest(test); }); });
    };
    show("measure-timing", QStringLiteral("timing"));
    show("measure-harmonics", QStringLiteral("harmonics"));
    show("measure-trust", QStringLiteral("trust"));
    stop("measure-sweep", PageName::Measure, [this] {
        m_steps.then([this] {
            m_window.measurePage()->showTest(QStringLiteral("sweep"));
            m_window.measurePage()->sweepView()->sweep(QStringLiteral("ratio"));
        });
        m_steps.wait("the sweep", [this] { return !m_desk.sweep.isRunning(); });
    });
    stop("measure-live", PageName::Measure, [this] {
        m_steps.then([this] {
            m_desk.line_up.hear(m_first);
            m_window.measurePage()->showTest(QStringLiteral("live"));
        });
        m_steps.pause(until_there_is_a_history_ms);
    });
    const auto by_lamplight = std::make_shared<ContenderId>(audition::no_contender);
    stop("measure-decay", PageName::Measure, [this, by_lamplight] {
        m_steps.then([this, by_lamplight] {
            *by_lamplight = m_desk.line_up.add(room);
            m_desk.bench.measure(*m_desk.line_up.find(*by_lamplight),
                                 {QStringLiteral("decay"), QStringLiteral("echoes")});
        });
        m_steps.wait("the decay", [this] { return m_desk.bench.waiting() == 0; });
        m_steps.then([this] {
            m_window.measurePage()->showTest(QStringLiteral("decay"));
            m_window.toggleTheme();
        });
    });
    m_steps.then([this, by_lamplight] {
        if (*by_lamplight == audition::no_contender)
            return;
        m_window.toggleTheme();
        m_desk.line_up.remove(*by_lamplight);
    });
}

void Tour::build()
{
    stop("build", PageName::Build, [this] {
        m_steps.then([this] {
            m_desk.draft.change(chain::Chain{});
            m_desk.draft.append({equaliser, leveller, saturator, room});
            chain::Chain chain = m_desk.draft.chain();
            chain.name = tr("Evening deck").toStdString();
            chain.nodes[0].purpose = tr("keep the quay out of the low end").toStdString();
            chain.nodes[0].phase = tr("corrective").toStdString();
            chain.nodes[0].settings = {{"low_db", -4}, {"high_db", 2.5}};
            chain.nodes[1].purpose = tr("hold cornets and tuba together").toStdString();
            chain.nodes[1].phase = tr("shaping").toStdString();
            chain.nodes[1].blend_percent = 65;
            chain.nodes[2].phase = tr("colour").toStdString();
            chain.nodes[2].settings = {{"drive_db", 12}, {"colour_percent", 60}};
            chain.nodes[3].purpose = tr("the hall behind them").toStdString();
            chain.nodes[3].phase = tr("space").toStdString();
            for (chain::Node& node : chain.nodes)
                node.may_move = &node != &chain.nodes.back();
            m_desk.draft.change(chain);
        });
        m_steps.wait("the levels", [this] { return !m_desk.study.levels().empty(); });
        m_steps.then([this] { m_desk.study.compareOrders(); });
        m_steps.wait("the orders", [this] { return !m_desk.study.orders().isPending(); });
        m_steps.wait("the pictures of the stages", [this] {
            return std::ranges::none_of(m_desk.draft.chain().nodes, [this](const chain::Node& node) {
                return m_desk.pictures.of(node).heights.isEmpty();
            });
        });
        m_steps.then([this] {
            m_desk.hearing.hear();
            m_desk.transport.play(true);
        });
        m_steps.wait("the chain", [this] {
            return m_desk.hearing.whole() && m_desk.line_up.audible() == m_desk.hearing.whole()->id;
        });
        m_steps.pause(until_there_is_a_history_ms / 2);
    });
}

void Tour::keepAndWrite()
{
    stop("keep", PageName::Keep,
         [this] { m_steps.then([this] { m_desk.keeping.keep(itemOf(m_desk.draft.chain())); }); });
    stop("write", PageName::Write, [this] {
        m_steps.then([this] { m_desk.actions.run(QStringLiteral("page.about")); });
        m_steps.wait("the measurements", [this] { return m_desk.bench.waiting() == 0; });
        m_steps.pause(100);
    });
}

} // namespace hr::app
