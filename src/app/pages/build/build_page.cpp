// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/build/build_page.h"

#include "pages/build/chain_actions.h"
#include "pages/build/chain_files.h"
#include "pages/build/delivery_view.h"
#include "pages/build/halves_view.h"
#include "pages/build/orders_view.h"
#include "pages/build/parts_view.h"
#include "pages/build/path_view.h"
#include "pages/build/stage_drawer.h"
#include "pages/build/times_view.h"
#include "pages/build/versions_view.h"
#include "processors/value_text.h"
#include "theme/theme.h"
#include "widgets/basics.h"
#include "widgets/candidate_mark.h"
#include "widgets/level_ladder.h"
#include "widgets/name_popup.h"
#include "widgets/parameter_row.h"
#include "widgets/segments.h"

#include <QLineEdit>
#include <QScrollArea>
#include <QScrollBar>
#include <QVBoxLayout>
#include <algorithm>

namespace hr::app {

namespace {

constexpr int ladder_height = 84;
constexpr int around_stages_px = 10;
constexpr int least_height_for_values = 620; // of the page; else the ladder would be below what is seen

QScrollArea* scrolled(QWidget& inside, const QMargins& margins)
{
    auto* scroll = new QScrollArea;
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    scroll->setFocusPolicy(Qt::NoFocus);
    auto* paper = new QWidget;
    auto* column = new QVBoxLayout(paper);
    column->setContentsMargins(margins);
    column->addWidget(&inside);
    scroll->setWidget(paper);
    scroll->viewport()->setAutoFillBackground(false);
    paper->setAutoFillBackground(false);
    return scroll;
}

} // namespace

BuildPage::BuildPage(const BuildServices& services, QWidget* parent)
    : QWidget(parent), m_services(services), m_silenced(services.store)
{
    setObjectName(QStringLiteral("page"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(20, 16, 20, 12);
    column->setSpacing(12);
    column->addWidget(makeTop());
    auto* sheet = m_sheet = new Sheet;
    m_stack = new Stack(sheet);
    m_stack->addWidget(makeChain());
    auto* empty = new EmptyState(
        tr("No stage yet"),
        tr("A chain is stages in order. Press Insert and type a name, or choose processors on "
           "Find and send them here: by Build in their menu, by Ctrl+B, or by dragging them onto "
           "this tab."),
        tr("Go to Find"));
    connect(empty, &EmptyState::stepTaken, this, [this] { m_services.navigation.goTo(PageName::Find); });
    m_stack->addWidget(empty);
    column->addWidget(sheet, 6);
    m_actions = new ChainActions(m_services, *m_picture, m_silenced, this);
    m_files = new ChainFiles(m_services, *m_picture, this);
    connect(m_actions, &ChainActions::silenced, this, &BuildPage::reload);
    column->addWidget(m_below = makeBelow(), 7);
    connect(&m_services.draft, &ChainDraft::changed, this, &BuildPage::reload);
    connect(&m_services.facts, &StageFacts::changed, this, &BuildPage::reload);
    connect(&m_services.pictures, &StagePictures::changed, this, &BuildPage::reload);
    connect(&m_services.study, &ChainStudy::levelsChanged, this, &BuildPage::showLevels);
    connect(&m_services.study, &ChainStudy::overloadArose, this, &BuildPage::saySomethingArose);
    connect(&m_services.study, &ChainStudy::notice, &m_services.notices, &Notices::say);
    connect(&m_services.hearing, &ChainHearing::changed, this, &BuildPage::showHeard);
    connect(&m_services.transport, &Transport::positionMoved, this, &BuildPage::showGains);
    connect(&m_services.transport, &Transport::playingChanged, this, &BuildPage::showGains);
    reload();
}

QWidget* BuildPage::makeTop()
{
    auto* top = new QWidget;
    auto* row = new QHBoxLayout(top);
    row->setContentsMargins(0, 0, 0, 0);
    m_name = new QLineEdit;
    m_name->setAccessibleName(tr("name of the chain"));
    m_name->setFont(Theme::words(Theme::heading_px, QFont::DemiBold));
    connect(m_name, &QLineEdit::editingFinished, this, &BuildPage::keepName);
    row->addWidget(m_name, 3);
    row->addWidget(m_heard = new ElidedLabel, 2);
    setRole(m_heard, "faint");
    const auto add = [&](Button* button, const QString& tip, const std::function<void()>& work) {
        addButton(*row, button, this, work)->setToolTip(tip);
    };
    add(new Button(tr("Hear it here")), m_services.actions.tip(QStringLiteral("build.hear")),
        [this] { m_services.actions.run(QStringLiteral("build.hear")); });
    add((new Button(tr("Listen to the chain")))->main(), tr("beside the other candidates"), [this] {
        if (m_services.draft.chain().nodes.empty())
            return m_services.notices.say(tr("The chain has no stage yet: send one here from Find."));
        if (m_services.hearing.hear())
            m_services.navigation.goTo(PageName::Listen);
    });
    m_amount = new ParameterRow(amountParameter());
    m_amount->setFixedWidth(150);
    m_amount->setToolTip(tr("how much of the chain is heard beside the source, at the same loudness"));
    connect(m_amount, &ParameterRow::changed, this, [this](double percent) {
        if (const Contender* whole = m_services.hearing.whole())
            m_services.edits.setAmount(whole->id, percent);
    });
    row->addWidget(m_amount);
    auto* keep = new Button(tr("Keep"));
    add(keep, tr("in a collection"), [this, keep] { m_files->keepUnder(keep); });
    auto* more = new Button(tr("Chain \u25be"));
    more->setAccessibleName(tr("open, save, keep or print the chain"));
    add(more, tr("open, save, keep, print, start over"), [this, more] { m_files->openMenu(more); });
    return top;
}

/// The levels stay in sight below the stages, and go along with them sideways.
QWidget* BuildPage::makeChain()
{
    m_picture = new ChainPicture(QLatin1String(ProcessorModel::ids_format));
    m_scroll = scrolled(*m_picture, {6, 4, 6, 0});
    m_ladder = new LevelLadder;
    m_ladder->setMinimumHeight(ladder_height - 4);
    auto* levels = scrolled(*m_ladder, {6, 0, 6, 4});
    levels->setMinimumHeight(ladder_height);
    levels->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    levels->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    QScrollBar* const along = levels->horizontalScrollBar();
    const auto follow = [this, along] { along->setValue(m_scroll->horizontalScrollBar()->value()); };
    connect(m_scroll->horizontalScrollBar(), &QScrollBar::valueChanged, along, follow);
    connect(along, &QScrollBar::rangeChanged, along, follow); // it may grow after the stages have been scrolled
    connect(m_scroll->horizontalScrollBar(), &QScrollBar::rangeChanged, this, [this] {
        fitSheet();
        scrollToChosen();
    });
    connect(m_scroll->verticalScrollBar(), &QScrollBar::rangeChanged, this, &BuildPage::fitLadder);
    auto* both = new QWidget;
    auto* column = new QVBoxLayout(both);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(m_scroll, 100); // all that it needs, and the levels have the rest
    column->addWidget(levels, 1);
    connect(m_picture, &ChainPicture::chosenChanged, this, &BuildPage::showChosen);
    connect(m_picture, &ChainPicture::opened, this, [this] { m_drawer->takeFocus(); });
    connect(m_picture, &ChainPicture::valueMoved, this,
            [this](const QString& id, const QString& key, double value) { setValue(id, key, value, key); });
    connect(m_picture, &ChainPicture::valueRequested, this, &BuildPage::askValue);
    connect(m_picture, &ChainPicture::zoomed, this, &BuildPage::showLevels);
    return both;
}

QWidget* BuildPage::makeBelow()
{
    auto* below = new QWidget;
    auto* row = new QHBoxLayout(below);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(12);
    auto* stage = new Sheet;
    auto* stage_column = new QVBoxLayout(stage);
    stage_column->addWidget(m_drawer = new StageDrawer(m_services));
    connect(m_drawer, &StageDrawer::stepRequested, this, [this](int columns) { m_picture->step(columns); });
    row->addWidget(stage, 3);
    auto* orders = new Sheet;
    auto* orders_column = new QVBoxLayout(orders);
    orders_column->setContentsMargins(7, 9, 7, 9); // six tabs side by side, in a small window too
    auto* which = new Segments(tr("beside the stage"), {tr("Orders"), tr("Path"), tr("Delivery"), tr("Times"),
                                                        tr("Parts"), tr("Versions")});
    orders_column->addWidget(which, 0, Qt::AlignLeft);
    auto* stack = new Stack;
    stack->addWidget(new OrdersView(m_services));
    auto* path = new QWidget;
    auto* path_column = new QVBoxLayout(path);
    path_column->setContentsMargins(0, 0, 0, 0);
    path_column->addWidget(new PathView(m_services), 1);
    auto* halves = new HalvesView(m_services);
    connect(halves, &HalvesView::found, m_picture, [this](const QString& one) { m_picture->choose(one); });
    path_column->addWidget(halves);
    stack->addWidget(path);
    stack->addWidget(new DeliveryView(m_services));
    auto* times = new TimesView(m_services);
    connect(times, &TimesView::chosen, m_drawer, &StageDrawer::setTime);
    connect(m_picture, &ChainPicture::chosenChanged, times,
            [this, times] { times->setStage(m_picture->current()); });
    stack->addWidget(times);
    stack->addWidget(new PartsView(m_services));
    stack->addWidget(new VersionsView(m_services));
    orders_column->addLayout(stack, 1);
    connect(which, &Segments::chosen, stack, &QStackedLayout::setCurrentIndex);
    row->addWidget(orders, 2);
    return below;
}

void BuildPage::showEvent(QShowEvent* event)
{
    QWidget::showEvent(event);
    m_services.study.keepLevels(true);
    m_services.pictures.keepCurrent(true);
    reload();
}

void BuildPage::resizeEvent(QResizeEvent* event)
{
    QWidget::resizeEvent(event);
    if (const bool room = height() >= least_height_for_values; room != m_with_values) {
        m_with_values = room;
        reload();
    }
    fitSheet();
}

void BuildPage::hideEvent(QHideEvent* event)
{
    QWidget::hideEvent(event);
    m_services.study.keepLevels(false);
    m_services.pictures.keepCurrent(false);
}

void BuildPage::keepName()
{
    const std::string name = m_name->text().trimmed().toStdString();
    if (name.empty() || name == m_services.draft.chain().name)
        return m_name->setText(QString::fromStdString(m_services.draft.chain().name));
    m_services.draft.edit([&](chain::Chain chain) {
        chain.name = name;
        return chain::Edited(std::move(chain));
    });
}

/// As high as the stages and their levels, up to a share of the page.
void BuildPage::fitSheet()
{
    constexpr double largest_share = 0.41;
    const int stages = m_picture->sizeHint().height() + around_stages_px;
    const bool is_wider = m_scroll->horizontalScrollBar()->maximum() > 0;
    m_scroll->setMaximumHeight(stages + (is_wider ? m_scroll->horizontalScrollBar()->sizeHint().height() : 0));
    m_sheet->setMinimumHeight(std::min(stages + ladder_height, static_cast<int>(largest_share * height())));
}

/// As far as the stages go, and what stands beside them when they are scrolled to their end.
void BuildPage::fitLadder()
{
    const QScrollBar& beside = *m_scroll->verticalScrollBar();
    m_ladder->setMinimumWidth(m_picture->sizeHint().width() +
                              (beside.maximum() > 0 ? beside.sizeHint().width() : 0));
}

/// `moves`: what steps in a row move is one step (ChainDraft).
void BuildPage::setValue(const QString& id, const QString& key, double value, const QString& moves)
{
    m_services.draft.changeNode(
        id.toStdString(), [&](chain::Node& stage) { m_services.facts.set(stage, key.toStdString(), value); },
        moves);
}

void BuildPage::askValue(const QString& id, const QString& key, const QPoint& at)
{
    const chain::Node* stage = m_services.draft.node(id.toStdString());
    const auto standing = stage ? m_services.facts.parameterOf(*stage, key.toStdString()) : std::nullopt;
    if (!standing)
        return;
    const processors::ParameterInfo parameter = standing->parameter;
    askName(
        m_picture, tr("value of %1").arg(QString::fromStdString(parameter.name)),
        QString::fromStdString(processors::valueText(parameter, standing->value)),
        [this, id, key, parameter](const QString& typed) {
            const auto value = processors::parseValue(parameter, typed.toStdString());
            if (!value || !parameter.allows(*value))
                return m_services.notices.say(
                    tr("%1: \"%2\" is no value of it; it goes from %3 to %4.")
                        .arg(QString::fromStdString(parameter.name), typed,
                             QString::fromStdString(processors::valueWithUnit(parameter, parameter.minimum)),
                             QString::fromStdString(processors::valueWithUnit(parameter, parameter.maximum))));
            setValue(id, key, *value, {});
        },
        at);
}

// --- shown -------------------------------------------------------------------------------------------

void BuildPage::reload()
{
    const chain::Chain& chain = m_services.draft.chain();
    m_name->setText(QString::fromStdString(chain.name));
    if (auto drawing = chain::drawingOf(chain))
        m_picture->setChain(std::move(*drawing),
                            cardsOf(chain, m_services.facts, m_services.pictures, m_silenced, m_with_values));
    if (m_picture->chosen().isEmpty() && !chain.nodes.empty())
        m_picture->step(1);
    m_stack->setCurrentIndex(chain.nodes.empty() ? 1 : 0);
    m_below->setVisible(!chain.nodes.empty() || !m_services.parts.isEmpty()); // from where one goes back
    fitSheet();
    showLevels();
    showHeard();
}

void BuildPage::showChosen()
{
    m_drawer->show(m_picture->current());
    m_scrolls_to_chosen = true;
    scrollToChosen();
}

/// What is new has its place only once the scrolled sheet has grown: until then it is due.
void BuildPage::scrollToChosen()
{
    const QRect place = m_picture->placeOf(m_picture->current()).translated(m_picture->pos());
    const int reaches = m_scroll->horizontalScrollBar()->maximum() + m_scroll->viewport()->width();
    if (!m_scrolls_to_chosen || place.right() > reaches)
        return;
    m_scrolls_to_chosen = false;
    if (!place.isNull())
        m_scroll->ensureVisible(place.center().x(), place.center().y(), place.width(), place.height() / 2);
}

void BuildPage::showLevels()
{
    const chain::Chain& chain = m_services.draft.chain();
    fitLadder();
    std::vector<LadderStep> steps;
    for (const audition::PathPoint& point : m_services.study.levels()) {
        const chain::Node* node = chain.node(point.after);
        const std::size_t number = chain::stageNumber(chain, point.after);
        const QString name = !node         ? tr("source")
                             : number == 0 ? m_services.facts.nameOf(*node)
                                           : tr("%1 %2").arg(number).arg(m_services.facts.nameOf(*node));
        steps.push_back({name, point.loudness_lufs, point.true_peak_dbtp, m_picture->middleOf(point.after)});
    }
    m_ladder->setSteps(std::move(steps),
                       m_services.study.whyNoLevels().isEmpty()
                           ? tr("Levels are found with the section that repeats.")
                           : m_services.study.whyNoLevels(),
                       m_services.study.isOverloadHeard());
}

/// "4 stages · C, playing".
/// Of stages that work on level, where the chain or a part of it is what is heard.
void BuildPage::showGains()
{
    if (!isVisible())
        return;
    std::map<QString, double> gains_db;
    const Transport& transport = m_services.transport;
    for (const Contender* heard : {m_services.hearing.whole(), m_services.hearing.part()}) {
        if (!heard || heard->id != transport.audible() || !transport.isPlaying())
            continue;
        const auto told_db = transport.stageGainsDb(heard->id);
        const auto& nodes = heard->location.graph.nodes;
        for (std::size_t i = 0; i < std::min(told_db.size(), nodes.size()); ++i)
            gains_db[QString::fromStdString(nodes[i].id)] = static_cast<double>(told_db[i]);
    }
    std::erase_if(gains_db, [this](const auto& gain) {
        const ChainCard* card = m_picture->chainLayout().card(gain.first);
        return !std::isfinite(gain.second) || !card || card->picture != SmallPicture::InOut || !card->at_work;
    });
    m_picture->setGains(gains_db);
}

void BuildPage::showHeard()
{
    const chain::Chain& chain = m_services.draft.chain();
    const std::size_t count = chain::stageCount(chain);
    QStringList words{count == 1 ? tr("1 stage") : tr("%1 stages").arg(count)};
    const ChainHearing& hearing = m_services.hearing;
    if (hearing.isHeard(hearing.part()))
        words << tr("heard: %1").arg(hearing.partCalled());
    else if (hearing.isHeard(hearing.whole()))
        words << tr("heard as %1").arg(markLetter(hearing.whole()->mark));
    else if (hearing.whole())
        words << tr("candidate %1").arg(markLetter(hearing.whole()->mark));
    if (const Contender* whole = hearing.whole(); whole && whole->isBeingChanged())
        words << tr("the change is being opened");
    m_amount->setVisible(hearing.whole() != nullptr);
    if (hearing.whole())
        m_amount->setValue(hearing.whole()->amount_percent);
    m_heard->setWhole(words.join(QStringLiteral(" \u00b7 ")));
}

void BuildPage::saySomethingArose(const std::string& node, double true_peak_dbtp)
{
    const chain::Node* arose = m_services.draft.node(node);
    m_services.notices.say(
        tr("From %1 on it is louder than full scale now: %2 dBTP.")
            .arg(arose ? m_services.facts.nameOf(*arose) : tr("the source"), signedNumber(true_peak_dbtp, 1)));
}

} // namespace hr::app
