// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/build/chain_actions.h"

#include "chain/chain_json.h"
#include "chain/part.h"
#include "exchange/chain_file.h"
#include "pages/build/add_stage.h"
#include "processors/settings.h"
#include "widgets/ask_file.h"
#include "widgets/basics.h"
#include "widgets/name_popup.h"

#include <QApplication>
#include <QClipboard>
#include <QFile>
#include <QFileInfo>
#include <algorithm>

namespace hr::app {

namespace {

QString where(const char* id)
{
    return QLatin1String("build.") + QLatin1String(id);
}

} // namespace

ChainActions::ChainActions(const BuildServices& services, ChainPicture& picture, SilencedRemarks& silenced,
                           QWidget* place)
    : QObject(place), m_services(services), m_picture(picture), m_silenced(silenced), m_place(place),
      m_edits(m_services, picture), m_routing(m_services, picture, m_edits, *this)
{
    addEdits();
    addHearing();
    connect(&m_picture, &ChainPicture::menuRequested, this, &ChainActions::openMenu);
    connect(&m_picture, &ChainPicture::addRequested, this, &ChainActions::askToInsert);
    connect(&m_picture, &ChainPicture::moveRequested, this, &ChainActions::move);
    connect(&m_picture, &ChainPicture::processorsDropped, this, &ChainActions::insert);
}

// --- declared ----------------------------------------------------------------------------------------

void ChainActions::add(const char* id, const QString& words, const QKeySequence& key, std::function<void()> run,
                       bool in_picture, bool needs_stage)
{
    std::function<QString()> disabledReason;
    if (needs_stage)
        disabledReason = [this] {
            return m_edits.chosenStages().empty() ? tr("No stage is chosen on Build: choose one first.")
                                                  : QString();
        };
    m_services.actions.add({where(id),
                            words,
                            tr("Stages on Build"),
                            key,
                            std::move(run),
                            disabledReason,
                            {},
                            in_picture ? static_cast<QWidget*>(&m_picture) : m_place});
}

void ChainActions::addEdits()
{
    add(
        "add", tr("put a stage at the cursor"), Qt::Key_Insert,
        [this] { insertAt(m_picture.chainLayout().pathBehind(m_picture.current())); }, false, false);
    add("add.before", tr("put a stage before this one"), Qt::SHIFT | Qt::Key_Insert,
        [this] { insertAt(m_picture.chainLayout().pathBefore(m_picture.current())); });
    add("replace", tr("replace the stage"), Qt::CTRL | Qt::Key_R, [this] { replaceChosen(); });
    add(
        "remove", tr("remove"), QKeySequence::Delete,
        [this] {
            m_edits.edit(
                [ids = m_edits.chosen()](const chain::Chain& chain) { return chain::remove(chain, ids); });
        },
        true, false);
    add(
        "earlier", tr("move earlier"), Qt::ALT | Qt::Key_Left,
        [this] {
            m_edits.edit([id = m_edits.currentId()](const chain::Chain& chain) {
                return chain::step(chain, id, chain::Along::Earlier);
            });
        },
        true);
    add(
        "later", tr("move later"), Qt::ALT | Qt::Key_Right,
        [this] {
            m_edits.edit([id = m_edits.currentId()](const chain::Chain& chain) {
                return chain::step(chain, id, chain::Along::Later);
            });
        },
        true);
    add(
        "copy", tr("copy"), QKeySequence::Copy, [this] { copy(); }, true);
    add(
        "cut", tr("cut"), QKeySequence::Cut,
        [this] {
            copy();
            m_edits.edit(
                [ids = m_edits.chosen()](const chain::Chain& chain) { return chain::remove(chain, ids); });
        },
        true);
    add(
        "paste", tr("paste at the cursor"), QKeySequence::Paste, [this] { paste(); }, true, false);
    add(
        "all", tr("choose all stages"), QKeySequence::SelectAll, [this] { m_picture.chooseAll(); }, true,
        false);
    const auto turn = [this](bool chain::Node::*which) {
        chain::Chain after = m_services.draft.chain();
        const auto ids = m_edits.chosenStages();
        const bool on = std::ranges::any_of(
            ids, [&](const std::string& id) { return !(m_services.draft.node(id)->*which); });
        for (chain::Node& node : after.nodes)
            if (std::ranges::find(ids, node.id) != ids.end())
                node.*which = on;
        m_services.draft.change(after);
    };
    add("on", tr("switch on or off"), Qt::Key_Z, [turn] { turn(&chain::Node::on); });
    add("moves", tr("let it move, or not, where orders are compared"), Qt::SHIFT | Qt::Key_Z,
        [turn] { turn(&chain::Node::may_move); });
    add("random", tr("random settings, within limits and but for what is held"), Qt::ALT | Qt::Key_X,
        [this] { m_services.chance.draw(m_edits.chosenStages()); });
    const auto tell = [this](bool done, const QString& why_not) {
        if (!done)
            m_services.notices.say(why_not);
    };
    add(
        "random.back", tr("the random settings before"), Qt::ALT | Qt::SHIFT | Qt::Key_X,
        [this, tell] {
            tell(m_services.chance.step(-1), tr("There are none before these: Alt+X draws some."));
        },
        false, false);
    add(
        "random.on", tr("the random settings after"), Qt::ALT | Qt::SHIFT | Qt::Key_C,
        [this, tell] { tell(m_services.chance.step(1), tr("There are none after these: Alt+X draws some.")); },
        false, false);
    add(
        "random.keep", tr("keep these random settings as a version"), Qt::ALT | Qt::Key_C,
        [this] { m_services.versions.keep(); }, false, false);
    add(
        "random.away", tr("throw these random settings away"), Qt::ALT | Qt::Key_Backspace,
        [this, tell] { tell(m_services.chance.throwAway(), tr("Nothing was drawn: Alt+X draws some.")); },
        false, false);
    add("save", tr("save what is chosen as a chain"), {}, [this] { saveChosen(); });
    add(
        "load", tr("put a chain from a file at the cursor"), {}, [this] { loadHere(); }, false, false);
    add("neutral", tr("level to neutral: a trim with which it adds no loudness"), Qt::ALT | Qt::Key_N,
        [this] { m_services.study.toNeutral(m_edits.chosenStages()); });
    add(
        "neutral.all", tr("level all stages to neutral"), Qt::ALT | Qt::SHIFT | Qt::Key_N,
        [this] {
            std::vector<std::string> all;
            for (const chain::Node& node : m_services.draft.chain().nodes)
                if (node.kind == chain::NodeKind::Stage)
                    all.push_back(node.id);
            m_services.study.toNeutral(all);
        },
        false, false);
    add(
        "larger", tr("draw the chain larger"), QKeySequence::ZoomIn, [this] { m_picture.zoom(1.15); }, false,
        false);
    add(
        "smaller", tr("draw the chain smaller"), QKeySequence::ZoomOut, [this] { m_picture.zoom(1 / 1.15); },
        false, false);
}

void ChainActions::addHearing()
{
    add(
        "hear", tr("hear the chain"), Qt::Key_G, [this] { m_services.hearing.hear(); }, false, false);
    add("hear.up-to", tr("hear the chain up to this stage, or all of it"), Qt::Key_H, [this] {
        hearPart(chain::upTo(m_services.draft.chain(), m_edits.currentId()),
                 tr("up to %1").arg(m_edits.numberOf(m_edits.currentId())));
    });
    add("hear.without", tr("hear the chain without what is chosen, or with it"), Qt::Key_J, [this] {
        hearPart(chain::remove(m_services.draft.chain(), m_edits.chosen()),
                 tr("without %1").arg(m_edits.numbersOf(m_edits.chosenStages())));
    });
    add("hear.alone", tr("hear what is chosen alone, or the chain"), Qt::Key_K, [this] {
        const auto stages = m_edits.chosenStages();
        hearPart(chain::copyOf(m_services.draft.chain(), {stages.begin(), stages.end()}),
                 tr("%1 alone").arg(m_edits.numbersOf(m_edits.chosenStages())));
    });
    add("hear.path", tr("hear only the path that it is on, or the chain"), Qt::SHIFT | Qt::Key_K, [this] {
        hearPart(chain::throughOnly(m_services.draft.chain(), m_edits.currentId()),
                 tr("the path of %1").arg(m_edits.numberOf(m_edits.currentId())));
    });
    add("hear.key", tr("hear what its key input listens to, or the chain"), Qt::SHIFT | Qt::Key_J, [this] {
        hearPart(chain::keyOf(m_services.draft.chain(), m_edits.currentId()),
                 tr("the key of %1").arg(m_edits.numberOf(m_edits.currentId())));
    });
}

void ChainActions::openMenu(const QPoint& at)
{
    QMenu* menu = menuFor(&m_picture);
    const auto view = [&](std::initializer_list<const char*> ids) {
        for (const char* id : ids)
            menu->addAction(m_services.actions.view(where(id), menu));
        menu->addSeparator();
    };
    view({"add", "add.before", "replace", "remove"});
    view({"cut", "copy", "paste", "save", "load"});
    view({"on", "moves", "neutral", "random"});
    view({"hear.up-to", "hear.without", "hear.alone", "hear.path", "hear.key"});
    view({"beside", "send", "bands", "mid"});
    m_routing.addTo(*menu);
    if (const chain::Node* stage = m_services.draft.node(m_edits.currentId());
        stage && stage->kind == chain::NodeKind::Stage && !m_services.facts.of(stage->processor))
        addAlike(*menu->addMenu(tr("What is most alike, as measured")), *stage);
    QMenu* phases = menu->addMenu(tr("Phase"));
    for (const QString& phase : usualPhases())
        phases->addAction(phase, this, [this, phase] { setPhase(phase); });
    phases->addAction(tr("Another word …"), this, &ChainActions::askPhase);
    phases->addAction(tr("None"), this, [this] { setPhase({}); });
    phases->setEnabled(!m_edits.chosenStages().empty());
    if (const auto remark =
            remarkOn(m_picture.current().toStdString(), m_services.draft.chain(), m_services.facts, m_silenced))
        menu->addAction(tr("Never say so again: %1").arg(QString::fromStdString(remark->reason)), this,
                        [this, rule = remark->rule] {
                            if (m_services.notices.succeeded(m_silenced.silence(rule)))
                                emit silenced();
                        });
    menu->popup(at);
}

// --- done --------------------------------------------------------------------------------------------

void ChainActions::insert(const QStringList& processors, std::size_t path)
{
    std::vector<chain::Node> stages;
    for (const QString& id : processors) {
        auto stage = m_services.draft.stageOf(id);
        if (!m_services.notices.succeeded(stage))
            return;
        stages.push_back(std::move(*stage));
    }
    insertStages(stages, path);
}

void ChainActions::insertStages(const std::vector<chain::Node>& stages, std::size_t path)
{
    const auto edge = m_edits.edgeOf(path);
    if (!edge)
        return;
    m_edits.edit([&](const chain::Chain& chain) -> chain::Edited {
        chain::Edited longer = chain;
        chain::Edge here = *edge;
        for (const chain::Node& stage : stages) {
            longer = longer->nodes.empty() ? chain::insertBefore(*longer, processors::chain_output, stage)
                                           : chain::insertOn(*longer, here, stage);
            if (!longer)
                return longer;
            // The next one goes behind it: on the path that now leads to the same end.
            const auto edges = longer->graph().edges;
            const auto next = std::ranges::find_if(edges, [&](const chain::Edge& one) {
                return one.to == here.to && one.input == here.input && !chain.node(one.from) &&
                       one.from != processors::chain_input;
            });
            if (next != edges.end())
                here = *next;
        }
        return longer;
    });
    m_picture.setFocus();
}

void ChainActions::askToInsert(std::size_t path, const QPoint& at)
{
    AddStage::open(m_services, &m_picture, at, tr("what is to stand here"),
                   [this, edge = m_edits.edgeOf(path)](const chain::Node& stage) {
                       const auto& paths =
                           m_picture.chainLayout().drawing().paths; // it may have been rewired meanwhile
                       const auto now = std::ranges::find_if(
                           paths, [&](const chain::DrawnPath& one) { return edge && one.edge == *edge; });
                       if (now != paths.end())
                           insertStages({stage}, static_cast<std::size_t>(now - paths.begin()));
                   });
}

void ChainActions::insertAt(std::optional<std::size_t> path)
{
    if (path)
        askToInsert(*path, m_picture.mapToGlobal(m_picture.placeOf(m_picture.current()).bottomRight()));
}

void ChainActions::move(const QStringList& ids, std::size_t path, bool copies)
{
    const auto edge = m_edits.edgeOf(path);
    std::vector<std::string> nodes;
    for (const QString& id : ids)
        nodes.push_back(id.toStdString());
    if (!edge || nodes.empty())
        return;
    m_edits.edit([&](const chain::Chain& chain) -> chain::Edited {
        if (!copies)
            return nodes.size() == 1 && (edge->from == nodes[0] || edge->to == nodes[0])
                       ? chain::Edited(chain)
                       : chain::moveAll(chain, nodes, edge->to);
        const auto copied = chain::copyOf(chain, {nodes.begin(), nodes.end()});
        return copied ? chain::paste(chain, edge->to, *copied) : copied;
    });
}

/// In place of what is not installed but was measured once.
void ChainActions::addAlike(QMenu& menu, const chain::Node& missing)
{
    constexpr std::size_t most = 8;
    const auto prints = m_services.prints.latest();
    const auto at = prints ? prints->ids.indexOf(QString::fromStdString(missing.processor)) : -1;
    const auto only = [&](const QString& words) { menu.addAction(words)->setEnabled(false); };
    if (!prints)
        return only(tr("What is measured is being read: ask again"));
    if (at < 0)
        return only(tr("It was never measured here"));
    for (const auto& [index, distance] :
         bench::nearest(prints->prints, prints->prints[static_cast<std::size_t>(at)], most + 1)) {
        const QString id = prints->ids[static_cast<qsizetype>(index)];
        const StageFacts::Facts* other = m_services.facts.of(id.toStdString());
        if (!other || index == static_cast<std::size_t>(at))
            continue;
        menu.addAction(tr("%1, %2 times what is just noticeable")
                           .arg(other->entry.title(), number(static_cast<double>(distance), 1)),
                       this, [this, stage = missing.id, id, title = other->entry.title()] {
                           m_edits.edit([&](const chain::Chain& chain) {
                               return chain::replace(chain, stage, id.toStdString(), title.toStdString());
                           });
                       });
    }
    if (menu.isEmpty())
        only(tr("Nothing else is measured yet"));
}

/// Whatever settings mean the same with the other one are kept.
void ChainActions::replaceChosen()
{
    AddStage::open(
        m_services, &m_picture, m_picture.mapToGlobal(m_picture.placeOf(m_picture.current()).bottomLeft()),
        tr("what is to stand in its place"), [this, stage = m_edits.currentId()](const chain::Node& other) {
            const chain::Node* node = m_services.draft.node(stage);
            const StageFacts::Facts* to = m_services.facts.of(other.processor);
            if (!node || !to)
                return;
            const StageFacts::Facts* from = m_services.facts.of(node->processor);
            auto settings = from ? processors::carriedOver(
                                       processors::settingsOf(from->info, m_services.facts.valuesOf(*node)),
                                       from->info, to->info)
                                 : std::vector<processors::Setting>();
            std::erase_if(settings, [&](const processors::Setting& setting) {
                return to->info.parameters[*to->info.parameterIndex(setting.key)].default_value ==
                       setting.value;
            });
            m_edits.edit([&](const chain::Chain& chain) {
                return chain::replace(chain, stage, other.processor, to->entry.title().toStdString(),
                                      std::move(settings));
            });
        });
}

void ChainActions::copy()
{
    auto copied = chain::copyOf(m_services.draft.chain(), m_edits.chosen());
    if (!m_services.notices.succeeded(copied))
        return;
    copied->name = m_services.draft.chain().name;
    QApplication::clipboard()->setText(QString::fromStdString(chain::toText(*copied)));
}

void ChainActions::paste()
{
    const auto pasted = chain::fromText(QApplication::clipboard()->text().toStdString());
    if (!pasted)
        return m_services.notices.say(tr(
            "What is on the clipboard is not a chain: copy stages on Build, or the text of a chain's file."));
    putHere(*pasted);
}

void ChainActions::putHere(const chain::Chain& other)
{
    const auto edge = m_edits.edgeOf(m_picture.chainLayout().pathBehind(m_picture.current()));
    m_edits.edit([&](const chain::Chain& chain) {
        return chain::paste(chain, edge ? edge->to : processors::chain_output, other);
    });
}

void ChainActions::saveChosen()
{
    askToSave(&m_picture, tr("Save what is chosen as a chain"), tr("stages.json"), tr("Chains (*.json)"),
              [this](const QString& file) {
                  auto copied = chain::copyOf(m_services.draft.chain(), m_edits.chosen());
                  if (!m_services.notices.succeeded(copied))
                      return;
                  copied->name = QFileInfo(file).completeBaseName().toStdString();
                  m_services.notices.say(
                      savedOrWhy(exchange::writeChain(QFile::encodeName(file).toStdString(), *copied), file));
              });
}

void ChainActions::loadHere()
{
    askToOpen(&m_picture, tr("Put a chain at the cursor"), tr("Chains (*.json)"), [this](const QString& file) {
        if (const auto read = exchange::readChain(QFile::encodeName(file).toStdString());
            m_services.notices.succeeded(read))
            putHere(*read);
    });
}

void ChainActions::hearPart(const chain::Edited& part, const QString& called)
{
    const bool again =
        m_services.hearing.isHeard(m_services.hearing.part()) && m_services.hearing.partCalled() == called;
    if (again)
        m_services.hearing.hear();
    else if (m_services.notices.succeeded(part))
        m_services.hearing.hearPart(*part, called);
}

void ChainActions::setPhase(const QString& phase)
{
    chain::Chain after = m_services.draft.chain();
    const auto ids = m_edits.chosenStages();
    for (chain::Node& node : after.nodes)
        if (std::ranges::find(ids, node.id) != ids.end())
            node.phase = phase.toStdString();
    m_services.draft.change(after);
}

void ChainActions::askPhase()
{
    askName(&m_picture, tr("phase"), {}, [this](const QString& phase) { setPhase(phase); });
}

} // namespace hr::app
