// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/build/build_page.h"

#include "chain/part.h"
#include "exchange/chain_file.h"
#include "pages/build/delivery_view.h"
#include "pages/build/orders_view.h"
#include "pages/keep/keep_menu.h"
#include "theme/theme.h"
#include "widgets/ask_file.h"
#include "widgets/basics.h"
#include "widgets/level_ladder.h"
#include "widgets/segments.h"

#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace hr::app {

BuildPage::BuildPage(const Services& services, QWidget* parent) : QWidget(parent), m_services(services)
{
    setObjectName(QStringLiteral("page"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(20, 16, 20, 12);
    column->setSpacing(12);
    column->addWidget(makeTop());
    m_wiring = paragraph(
        tr("This chain branches: its parts stand in the order in which they run. A stage moves along its "
           "own path; a split that is removed leaves its stages one after the other."),
        "faint");
    column->addWidget(m_wiring);
    auto* sheet = new Sheet;
    m_stack = new Stack(sheet);
    m_list = new QListWidget;
    m_list->setAccessibleName(tr("stages of the chain"));
    m_list->setSelectionMode(QAbstractItemView::NoSelection);
    m_list->setFocusPolicy(Qt::NoFocus);
    m_stack->addWidget(m_list);
    auto* empty =
        new EmptyState(tr("No stage yet"),
                       tr("A chain is stages in order. Choose processors on Find and send them here: by "
                          "Build in their menu, by Ctrl+B, or by dragging them onto this tab."),
                       tr("Go to Find"));
    connect(empty, &EmptyState::stepTaken, this, [this] { m_services.navigation.goTo(PageName::Find); });
    m_stack->addWidget(empty);
    column->addWidget(sheet, 1);
    column->addWidget(m_below = makeBelow(), 1);
    connect(&m_services.draft, &ChainDraft::changed, this, &BuildPage::reload);
    connect(&m_services.study, &ChainStudy::levelsChanged, this, &BuildPage::showLevels);
    reload();
}

QWidget* BuildPage::makeBelow()
{
    auto* below = new QWidget;
    auto* row = new QHBoxLayout(below);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(12);
    auto* levels = new Sheet;
    auto* levels_column = new QVBoxLayout(levels);
    levels_column->addWidget(label(tr("Levels along the chain"), "strong"));
    levels_column->addWidget(m_ladder = new LevelLadder, 1);
    row->addWidget(levels, 3);
    auto* orders = new Sheet;
    auto* orders_column = new QVBoxLayout(orders);
    auto* which = new Segments(tr("beside the levels"), {tr("Orders"), tr("Delivery")});
    orders_column->addWidget(which, 0, Qt::AlignLeft);
    auto* stack = new Stack;
    stack->addWidget(
        new OrdersView({m_services.study, m_services.draft, m_services.routes, m_services.notices}));
    stack->addWidget(new DeliveryView(m_services.delivery, m_services.notices));
    orders_column->addLayout(stack, 1);
    connect(which, &Segments::chosen, stack, &QStackedLayout::setCurrentIndex);
    row->addWidget(orders, 2);
    return below;
}

void BuildPage::showEvent(QShowEvent* event)
{
    QWidget::showEvent(event);
    m_services.study.keepLevels(true);
}

void BuildPage::hideEvent(QHideEvent* event)
{
    QWidget::hideEvent(event);
    m_services.study.keepLevels(false);
}

void BuildPage::showLevels()
{
    const chain::Chain& chain = m_services.draft.chain();
    std::vector<LadderStep> steps;
    for (const audition::PathPoint& point : m_services.study.levels()) {
        const auto node = std::ranges::find(chain.nodes, point.after, &chain::Node::id);
        const auto place = static_cast<std::size_t>(node - chain.nodes.begin());
        const QString name = node == chain.nodes.end() ? tr("source")
                             : node->kind == chain::NodeKind::Stage
                                 ? tr("%1 %2").arg(chain::stageCount(chain, place)).arg(nameOf(*node))
                                 : nameOf(*node);
        steps.push_back({name, point.loudness_lufs, point.true_peak_dbtp});
    }
    m_ladder->setSteps(std::move(steps), m_services.study.whyNoLevels().isEmpty()
                                             ? tr("Levels are found with the section that repeats.")
                                             : m_services.study.whyNoLevels());
}

void BuildPage::hear(const chain::Edited& part, const QString& called)
{
    if (!m_services.notices.succeeded(part))
        return;
    chain::Chain named = *part;
    named.name = tr("%1, %2").arg(QString::fromStdString(m_services.draft.chain().name), called).toStdString();
    m_services.routes.listenTo(named);
}

QWidget* BuildPage::makeTop()
{
    auto* top = new QWidget;
    auto* row = new QHBoxLayout(top);
    row->setContentsMargins(0, 0, 0, 0);
    m_name = new QLineEdit;
    m_name->setAccessibleName(tr("name of the chain"));
    m_name->setFont(Theme::words(Theme::heading_px, QFont::DemiBold));
    connect(m_name, &QLineEdit::editingFinished, this, [this] {
        const std::string name = m_name->text().trimmed().toStdString();
        if (!name.empty() && name != m_services.draft.chain().name)
            m_services.draft.edit([&](chain::Chain chain) {
                chain.name = name;
                return chain::Edited(std::move(chain));
            });
        else
            m_name->setText(QString::fromStdString(m_services.draft.chain().name));
    });
    row->addWidget(m_name, 1);
    const auto add = [&](Button* button, const std::function<void()>& work) {
        connect(button, &QPushButton::clicked, this, work);
        row->addWidget(button);
    };
    add((new Button(tr("Listen to the chain")))->main(), [this] {
        if (m_services.draft.chain().nodes.empty())
            return m_services.notices.say(tr("The chain has no stage yet: send one here from Find."));
        m_services.routes.listenTo(m_services.draft.chain());
    });
    add(new Button(tr("Open a chain")), [this] {
        askToOpen(this, tr("Open a chain"), tr("Chains (*.json)"), [this](const QString& file) {
            auto read = exchange::readChain(QFile::encodeName(file).toStdString());
            if (!read)
                return m_services.notices.say(QString::fromStdString(read.error().text));
            m_services.draft.change(*read);
        });
    });
    add(new Button(tr("Save the chain")), [this] {
        askToSave(this, tr("Save the chain"),
                  QString::fromStdString(m_services.draft.chain().name) + QStringLiteral(".json"),
                  tr("Chains (*.json)"), [this](const QString& file) { saveTo(file); });
    });
    auto* keep = new Button(tr("Keep"));
    add(keep, [this, keep] {
        openKeepMenu(m_services.keeping, m_services.notices, keep,
                     [this] { return std::vector{itemOf(m_services.draft.chain())}; });
    });
    add(new Button(tr("Start over")), [this] {
        m_services.draft.edit([](const chain::Chain& chain) {
            chain::Chain empty;
            empty.name = chain.name;
            empty.next_node = chain.next_node;
            return chain::Edited(empty);
        });
        m_services.notices.say(tr("The chain is empty. Ctrl+Z brings it back."));
    });
    return top;
}

/// What stands below the name of a node.
QLabel* BuildPage::kindOf(const chain::Node& node) const
{
    QStringList crossovers;
    for (const double hz : node.crossovers_hz)
        crossovers << tr("%1 Hz").arg(number(hz, 0));
    switch (node.kind) {
    case chain::NodeKind::Stage:
        break;
    case chain::NodeKind::Bands:
        return label(tr("parts the sound at %1").arg(crossovers.join(tr(", "))), "faint");
    case chain::NodeKind::MidSide:
        return label(tr("parts the sound into mid and side"), "faint");
    case chain::NodeKind::Branch:
        return label(tr("a path beside the one before it"), "faint");
    case chain::NodeKind::Send:
        return label(tr("on the way to an effect that is added"), "faint");
    case chain::NodeKind::Return:
        return label(tr("on the way back from it"), "faint");
    case chain::NodeKind::Sum:
        return label(tr("adds up all paths that meet here"), "faint");
    case chain::NodeKind::Rejoin:
        return label(tr("mid and side together again"), "faint");
    case chain::NodeKind::Key:
        return label(tr("what a key input listens to"), "faint");
    }
    const auto entry = m_services.store.catalogue.entry(QString::fromStdString(node.processor));
    return entry ? label(entry->kind, "faint") : label(tr("bypassed (not installed)"), "caution");
}

QString BuildPage::nameOf(const chain::Node& node) const
{
    switch (node.kind) {
    case chain::NodeKind::Stage:
        break;
    case chain::NodeKind::Bands:
        return tr("Bands");
    case chain::NodeKind::MidSide:
        return tr("Mid and side");
    case chain::NodeKind::Branch:
        return tr("Branch");
    case chain::NodeKind::Send:
        return tr("Send");
    case chain::NodeKind::Return:
        return tr("Return");
    case chain::NodeKind::Sum:
        return tr("Sum");
    case chain::NodeKind::Rejoin:
        return tr("Rejoin");
    case chain::NodeKind::Key:
        return tr("Key");
    }
    const auto entry = m_services.store.catalogue.entry(QString::fromStdString(node.processor));
    return entry ? entry->title() : QString::fromStdString(node.name);
}

QWidget* BuildPage::makeLine(const chain::Node& shown, int place)
{
    const bool is_stage = shown.kind == chain::NodeKind::Stage;
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(12, 6, 12, 6);
    row->addWidget(label(is_stage ? QString::number(place) : QStringLiteral("·"), "figure"));
    auto* words = new QVBoxLayout;
    words->setSpacing(0);
    const QString title = nameOf(shown);
    auto* name = new ElidedLabel(title);
    setRole(name, "strong");
    words->addWidget(name);
    words->addWidget(kindOf(shown));
    row->addLayout(words, 1);
    const QString called = is_stage ? tr("stage %1").arg(place) : title;
    auto* purpose = new QLineEdit(QString::fromStdString(shown.purpose));
    purpose->setAccessibleName(tr("purpose of %1").arg(called));
    purpose->setPlaceholderText(tr("what it is there for"));
    connect(purpose, &QLineEdit::editingFinished, this, [this, id = shown.id, purpose] {
        const std::string text = purpose->text().toStdString();
        m_services.draft.changeNode(id, [&](chain::Node& node) { node.purpose = text; });
    });
    row->addWidget(purpose, 1);
    const auto add = [&](Button* button, const QString& accessible, const std::function<void()>& work) {
        button->setAccessibleName(accessible.arg(called));
        connect(button, &QPushButton::clicked, this,
                [this, work] { QMetaObject::invokeMethod(this, work, Qt::QueuedConnection); });
        row->addWidget(button);
    };
    const auto edit = [this](auto how) { m_services.draft.edit(how); };
    const std::string id = shown.id;
    if (is_stage || shown.kind == chain::NodeKind::Branch || shown.kind == chain::NodeKind::Send ||
        shown.kind == chain::NodeKind::Return) {
        auto* on = toggle(tr("on"));
        on->setChecked(shown.on);
        add(on, tr("%1 on"),
            [this, id] { m_services.draft.changeNode(id, [](chain::Node& node) { node.on = !node.on; }); });
    }
    if (is_stage) {
        auto* moves = toggle(tr("may move"), tr("one of those whose orders are compared"));
        moves->setChecked(shown.may_move);
        add(moves, tr("%1 may move"), [this, id] {
            m_services.draft.changeNode(id, [](chain::Node& node) { node.may_move = !node.may_move; });
        });
        auto* up_to = new Button(tr("up to here"));
        up_to->setToolTip(tr("heard on Listen, beside the other candidates"));
        add(up_to, tr("hear up to %1"),
            [this, id, place] { hear(chain::upTo(m_services.draft.chain(), id), tr("up to %1").arg(place)); });
        auto* without = new Button(tr("without"));
        without->setToolTip(tr("the chain without this stage, heard on Listen beside the other candidates"));
        add(without, tr("hear without %1"), [this, id, place] {
            hear(chain::remove(m_services.draft.chain(), {id}), tr("without %1").arg(place));
        });
        add(new Button(QStringLiteral("↑")), tr("%1 earlier"), [edit, id] {
            edit([id](const chain::Chain& chain) { return chain::step(chain, id, chain::Along::Earlier); });
        });
        add(new Button(QStringLiteral("↓")), tr("%1 later"), [edit, id] {
            edit([id](const chain::Chain& chain) { return chain::step(chain, id, chain::Along::Later); });
        });
    }
    add(new Button(QStringLiteral("✕")), tr("remove %1"),
        [edit, id] { edit([id](const chain::Chain& chain) { return chain::remove(chain, {id}); }); });
    return line;
}

void BuildPage::reload()
{
    m_list->clear();
    const chain::Chain& chain = m_services.draft.chain();
    m_name->setText(QString::fromStdString(chain.name));
    m_wiring->setVisible(!chain.isSeries());
    for (std::size_t i = 0; i < chain.nodes.size(); ++i) {
        auto* row = new QListWidgetItem(m_list);
        row->setSizeHint(QSize(0, 56));
        m_list->setItemWidget(row, makeLine(chain.nodes[i], static_cast<int>(chain::stageCount(chain, i))));
    }
    m_stack->setCurrentIndex(chain.nodes.empty() ? 1 : 0);
    m_below->setVisible(!chain.nodes.empty());
    showLevels();
}

void BuildPage::saveTo(const QString& file)
{
    auto written = exchange::writeChain(QFile::encodeName(file).toStdString(), m_services.draft.chain());
    m_services.notices.say(written ? tr("The chain is written to %1.").arg(file)
                                   : QString::fromStdString(written.error().text));
}

} // namespace hr::app
