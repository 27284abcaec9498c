// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/find/particulars.h"

#include "pages/find/kin_list.h"
#include "pages/find/preset_list.h"
#include "pages/find/written_editor.h"
#include "processors/kinds.h"
#include "processors/note_value.h"
#include "processors/settings.h"
#include "processors/value_text.h"
#include "theme/theme.h"
#include "widgets/keep_menu.h"
#include "widgets/segments.h"

#include <QDesktopServices>
#include <QDirIterator>
#include <QFileDialog>
#include <QFileInfo>
#include <QGridLayout>
#include <QScrollArea>
#include <QUrl>
#include <QVBoxLayout>
#include <array>

namespace hr::app {

namespace {

enum Part { About, Parameters, Presets, Kin };

void clear(QVBoxLayout* layout)
{
    while (QLayoutItem* item = layout->takeAt(0)) {
        delete item->widget();
        delete item;
    }
}

/// Files in its folder that somebody wrote to be read.
QStringList manualsOf(const QString& bundle)
{
    QStringList found;
    if (!QFileInfo(bundle).isDir())
        return found;
    QDirIterator walk(bundle,
                      {QStringLiteral("*.pdf"), QStringLiteral("*.html"), QStringLiteral("README*"),
                       QStringLiteral("*manual*.txt"), QStringLiteral("*.md")},
                      QDir::Files, QDirIterator::Subdirectories);
    while (walk.hasNext() && found.size() < 6)
        found << walk.next();
    return found;
}

} // namespace

Particulars::Particulars(const FindServices& services, QWidget* parent) : Sheet(parent), m_services(services)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 14, 6, 14);
    column->setSpacing(6);
    auto* head = new QWidget;
    m_head = new QVBoxLayout(head);
    m_head->setContentsMargins(0, 0, 10, 0);
    m_head->setSpacing(2);
    column->addWidget(head);
    m_parts = new Segments(tr("particulars"), {tr("About"), tr("Controls"), tr("Presets"), tr("Alike")});
    connect(m_parts, &Segments::chosen, this, &Particulars::showPart);
    column->addWidget(m_parts);
    auto* parts = new QWidget;
    m_stack = new Stack(parts);
    m_stack->addWidget(makeAbout());
    m_stack->addWidget(scrolling(m_parameters));
    m_presets = new PresetList(m_services);
    m_stack->addWidget(m_presets);
    m_kin = new KinList(m_services);
    connect(m_kin, &KinList::chosen, this, &Particulars::chosen);
    m_stack->addWidget(m_kin);
    column->addWidget(parts, 1);
    column->addWidget(makeWays());
    connect(&m_services.store.changes(), &library::Changes::measured, this, [this](const QString& id) {
        if (id == m_id)
            fill();
    });
}

QWidget* Particulars::scrolling(QVBoxLayout*& body)
{
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFocusPolicy(Qt::NoFocus);
    auto* inside = new QWidget;
    inside->setObjectName(QStringLiteral("scrolled"));
    scroll->viewport()->setAutoFillBackground(false);
    body = new QVBoxLayout(inside);
    body->setContentsMargins(0, 0, 10, 0);
    body->setSpacing(4);
    scroll->setWidget(inside);
    return scroll;
}

QWidget* Particulars::makeAbout()
{
    auto* about = new QWidget;
    auto* column = new QVBoxLayout(about);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(scrolling(m_about), 1);
    m_editor = new WrittenEditor(m_services);
    column->addWidget(m_editor);
    return about;
}

QWidget* Particulars::makeWays()
{
    m_ways = new QWidget;
    auto* ways = new QHBoxLayout(m_ways);
    ways->setContentsMargins(0, 4, 10, 0);
    ways->setSpacing(4);
    auto* listen = (new Button(tr("Listen")))->main();
    auto* measure = new Button(tr("Measure"));
    auto* build = new Button(tr("Build"));
    auto* keep = new Button(tr("Keep"));
    connect(listen, &QPushButton::clicked, this, [this] { m_services.ways.listenTo(m_selected); });
    connect(measure, &QPushButton::clicked, this, [this] { m_services.ways.measure(m_id); });
    connect(build, &QPushButton::clicked, this, [this] { m_services.ways.build(m_selected); });
    connect(keep, &QPushButton::clicked, this, [this, keep] {
        openKeepMenu(m_services.keeping, m_services.notices, keep,
                     [this] { return itemsAtDefaults(m_selected); });
    });
    for (Button* button : {listen, measure, build, keep})
        ways->addWidget(button);
    ways->addStretch();
    return m_ways;
}

void Particulars::showPart(int part)
{
    m_parts->setCurrent(part);
    m_stack->setCurrentIndex(part);
    fillPart();
}

void Particulars::show(const QString& id, const QStringList& selected, bool again)
{
    const bool same = id == m_id && selected == m_selected;
    if (same && !again)
        return;
    m_id = id;
    m_selected = selected;
    fill();
    // Its texts are left alone while they are being typed into.
    if (!same || !m_editor->isAncestorOf(focusWidget()))
        fillEditor();
}

void Particulars::fillEditor()
{
    std::vector<library::Entry> entries;
    for (const QString& one : m_selected)
        if (auto entry = m_services.store.catalogue.entry(one))
            entries.push_back(std::move(*entry));
    m_editor->show(entries);
}

void Particulars::fill()
{
    clear(m_head);
    m_body = m_head;
    auto entry = m_services.store.catalogue.entry(m_id);
    const bool any = !m_id.isEmpty() && entry;
    m_ways->setVisible(any);
    m_parts->setVisible(any);
    m_stack->parentWidget()->setVisible(any);
    if (!any)
        return addText(tr("Select a processor to see what is known about it."), "faint");
    addText(m_selected.size() > 1 ? tr("%1 and %2 more").arg(entry->title()).arg(m_selected.size() - 1)
                                  : entry->title(),
            "heading");
    if (!entry->alias.isEmpty())
        addText(tr("its maker calls it %1").arg(entry->name), "faint");
    QStringList of{entry->maker, entry->kind, entry->format + QLatin1Char(' ') + entry->version};
    of.removeAll(QString());
    addText(of.join(QStringLiteral(" · ")), "faint");
    if (entry->kind_proposed)
        addText(tr("Nobody has said what kind it is: “%1” is a guess from its name.").arg(entry->kind),
                "faint");
    const bool usable = entry->state != library::State::Quarantined;
    for (auto* button : m_ways->findChildren<QPushButton*>())
        button->setEnabled(usable || button->text() == tr("Keep"));
    fillPart();
}

void Particulars::fillPart()
{
    auto entry = m_services.store.catalogue.entry(m_id);
    auto info = m_services.store.catalogue.info(m_id);
    if (!entry || !info)
        return;
    switch (m_stack->currentIndex()) {
    case About:
        return fillAbout(*entry, *info);
    case Parameters:
        clear(m_parameters);
        m_body = m_parameters;
        addParameters(*info);
        return m_body->addStretch();
    case Presets:
        return m_presets->show(*info);
    case Kin:
        return m_kin->show(m_id);
    default:
        return;
    }
}

void Particulars::fillAbout(const library::Entry& entry, const processors::ProcessorInfo& info)
{
    clear(m_about);
    m_body = m_about;
    if (entry.state == library::State::Quarantined)
        addQuarantine();
    addCage(entry);
    addPlacing(entry);
    addHelp(entry, info);
    addReadings();
    addPages();
    m_body->addStretch();
}

/// Where it is written about.
void Particulars::addPages()
{
    constexpr std::size_t most = 5;
    const auto pages = m_services.store.pages.about(m_id);
    if (!m_services.notices.said(pages) || pages->empty())
        return;
    addText(tr("Written about"), "strong");
    for (std::size_t i = 0; i < std::min(most, pages->size()); ++i) {
        constexpr int widest_px = 220;
        const QString title = (*pages)[i].title;
        auto* open = new Button({});
        open->setText(open->fontMetrics()
                          .elidedText(title, Qt::ElideRight, widest_px)
                          .replace(QLatin1Char('&'), QStringLiteral("&&")));
        open->setAccessibleName(title);
        open->setToolTip(title.toHtmlEscaped());
        connect(open, &QPushButton::clicked, this, [this, page = (*pages)[i].row_id] {
            m_services.book.open(page);
            m_services.navigation.goTo(PageName::Write);
        });
        m_body->addWidget(open, 0, Qt::AlignLeft);
    }
    if (pages->size() > most)
        addText(tr("and on %1 more pages").arg(pages->size() - most), "faint");
}

void Particulars::addHelp(const library::Entry& entry, const processors::ProcessorInfo& info)
{
    if (!info.documentation.empty())
        addText(QString::fromStdString(info.documentation).simplified());
    const auto add = [this](const QString& text, const QUrl& address) {
        auto* link = new Button(text);
        link->setToolTip(address.toString().toHtmlEscaped());
        connect(link, &QPushButton::clicked, this, [address] { QDesktopServices::openUrl(address); });
        m_body->addWidget(link, 0, Qt::AlignLeft);
    };
    for (const std::string& address : info.links)
        add(tr("Read more at %1").arg(QUrl(QString::fromStdString(address)).host()),
            QUrl(QString::fromStdString(address)));
    for (const QString& file : manualsOf(entry.bundle))
        add(tr("Open %1").arg(QFileInfo(file).fileName()), QUrl::fromLocalFile(file));
}

/// What it was refused, what it may do, and how to change that.
void Particulars::addCage(const library::Entry& entry)
{
    const auto change = [this, id = entry.id](const QString& text, const hosting::Permissions& permissions) {
        auto* button = new Button(text);
        connect(button, &QPushButton::clicked, this, [this, id, permissions] {
            if (m_services.notices.said(m_services.store.catalogue.allow(id, permissions)))
                fill();
        });
        m_body->addWidget(button, 0, Qt::AlignLeft);
    };
    const hosting::Permissions& now = entry.permissions;
    if (now.network || !now.folder.empty())
        change(tr("Take back what it may do"), {});
    if (now.network)
        addText(tr("It may use the network."), "caution");
    if (!now.folder.empty())
        addText(tr("It may write to %1.").arg(QFile::decodeName(now.folder.c_str())), "caution");
    if (!entry.refusals.any())
        return;
    addText(tr("It %1, which was refused.").arg(QString::fromStdString(inWords(entry.refusals))), "caution");
    hosting::Permissions more = now;
    if (entry.refusals.network && !now.network) {
        more.network = true;
        change(tr("Allow it the network"), more);
    }
    if (entry.refusals.files && now.folder.empty()) {
        auto* allow = new Button(tr("Allow it a folder of its own"));
        connect(allow, &QPushButton::clicked, this, [this, id = entry.id, now] {
            const QString folder = QFileDialog::getExistingDirectory(this, tr("The folder it may write to"));
            hosting::Permissions permissions = now;
            permissions.folder = QFile::encodeName(folder).toStdString();
            if (!folder.isEmpty() && m_services.notices.said(m_services.store.catalogue.allow(id, permissions)))
                fill();
        });
        m_body->addWidget(allow, 0, Qt::AlignLeft);
    }
}

/// Where nobody has said what it is, what it behaves like.
void Particulars::addPlacing(const library::Entry& entry)
{
    if (!entry.own_kind.isEmpty()) {
        addText(tr("You placed it under %1.").arg(entry.own_kind), "faint");
        auto* undo = new Button(tr("Back to its maker's kind"));
        connect(undo, &QPushButton::clicked, this, [this] {
            m_services.notebook.write({m_id}, tr("its kind"), [](library::Written& w) { w.own_kind.clear(); });
        });
        m_body->addWidget(undo, 0, Qt::AlignLeft);
        return;
    }
    const QString like = m_services.processors.figures(m_id).behaves_like;
    if (like.isEmpty() || entry.kind.toStdString() != processors::unplaced_kind)
        return;
    addText(tr("Its maker gives it no class. As measured it behaves like: %1.").arg(like));
    auto* place = new Button(tr("Place it under %1").arg(like));
    connect(place, &QPushButton::clicked, this, [this, like] {
        m_services.notebook.write({m_id}, tr("its kind"), [like](library::Written& w) { w.own_kind = like; });
    });
    m_body->addWidget(place, 0, Qt::AlignLeft);
}

void Particulars::addText(const QString& text, const char* role)
{
    m_body->addWidget(paragraph(text, role));
}

void Particulars::addFigure(const QString& name, const QString& value, const char* role)
{
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 1, 0, 1);
    row->addWidget(new ElidedLabel(name), 1);
    row->addWidget(label(value, role));
    m_body->addWidget(line);
}

void Particulars::addQuarantine()
{
    auto faults = m_services.store.catalogue.faultsOf(m_id);
    if (!faults || faults->empty())
        return;
    const library::QuarantineEntry& last = faults->front();
    m_body->addSpacing(6);
    addText(tr("In quarantine"), "fault");
    addText(tr("It %1.").arg(QString::fromStdString(hosting::sentence(last.fault))));
    addText(tr("Tried %1. Honest Rack went on without it; a scan tries it again once its files change.")
                .arg(QString(last.at).replace(QLatin1Char('T'), QLatin1Char(' ')).remove(QLatin1Char('Z'))),
            "faint");
    // Its end tells most; the whole of it is in the tool tip.
    auto* path = label(QStringLiteral("…/") + last.bundle.section(QLatin1Char('/'), -2), "faint");
    path->setMinimumWidth(0);
    path->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    path->setToolTip(last.bundle.toHtmlEscaped());
    m_body->addWidget(path);
    auto* ways = new QWidget;
    auto* grid = new QGridLayout(ways);
    grid->setContentsMargins(0, 4, 0, 0);
    const auto add = [&](int row, int column, const QString& text, const std::function<void()>& work) {
        auto* button = new Button(text);
        connect(button, &QPushButton::clicked, this, work);
        grid->addWidget(button, row, column);
    };
    add(0, 0, tr("Try it again"), [this] { m_services.scan.tryAgain({m_id}); });
    add(0, 1, tr("Try all again"), [this] { m_services.scan.tryAgain(inQuarantine()); });
    add(1, 0, tr("Open its folder"), [bundle = last.bundle] {
        QDesktopServices::openUrl(
            QUrl::fromLocalFile(QFileInfo(bundle).isDir() ? bundle : QFileInfo(bundle).absolutePath()));
    });
    add(1, 1, tr("Never try again"), [this] {
        m_services.notebook.write({m_id}, tr("never try again"), [](library::Written& w) { w.hidden = true; });
    });
    m_body->addWidget(ways);
}

/// All but those that are never to be tried again.
QStringList Particulars::inQuarantine() const
{
    QStringList ids;
    for (const library::Entry& entry : m_services.processors.finder().entries())
        if (entry.state == library::State::Quarantined && !entry.hidden)
            ids << entry.id;
    return ids;
}

/// What is known of it as a list would show it; where it has only been measured otherwise, that.
void Particulars::addReadings()
{
    const auto info = m_services.store.catalogue.info(m_id);
    const auto location = m_services.store.catalogue.location(m_id);
    if (!info || !location)
        return;
    const auto defaults =
        library::setUpOf(m_services.store.catalogue, *location, *info, processors::defaultValues(*info));
    auto readings = m_services.store.runs.of(defaults);
    const bool at_defaults = readings && !readings->empty();
    if (readings && !at_defaults)
        readings = m_services.store.runs.latest(m_id);
    if (!readings || readings->empty())
        return;
    m_body->addSpacing(8);
    const QString day = readings->back().taken.left(10);
    addText(at_defaults ? tr("Measured %1, at its defaults").arg(day)
            : readings->back().settings == defaults.settings
                ? tr("Measured %1, of another build").arg(day)
                : tr("Measured %1, at settings of your own").arg(day),
            "strong");
    constexpr std::array<std::pair<const char*, const char*>, 8> shown{{{"response", "gain_1k_db"},
                                                                        {"response", "corner_low_hz"},
                                                                        {"response", "corner_high_hz"},
                                                                        {"harmonics", "thd_percent"},
                                                                        {"noise", "idle_dbfs"},
                                                                        {"loudness_shift", "shift_lu"},
                                                                        {"cost", "latency_found_samples"},
                                                                        {"cost", "realtime_factor"}}};
    for (const auto& [test, key] : shown)
        for (const library::StoredReading& stored : *readings)
            if (const auto* figure =
                    stored.test == QLatin1String(test) ? bench::figureInfo(test, key) : nullptr)
                if (const auto value = stored.reading.number(key)) {
                    const QString unit = QString::fromStdString(figure->unit);
                    addFigure(QString::fromStdString(figure->name),
                              figureText(*value, unit, figure->digits) + QLatin1Char(' ') + unit);
                }
}

void Particulars::addParameters(const processors::ProcessorInfo& info)
{
    if (info.parameters.empty())
        return addText(tr("It has no controls."), "faint");
    for (const auto& p : info.parameters) {
        const auto text = [&](double value) { return QString::fromStdString(processors::valueText(p, value)); };
        const QString unit = p.unit.empty() ? QString() : QLatin1Char(' ') + QString::fromStdString(p.unit);
        const bool named = processors::hasNamedValues(p);
        addFigure(QString::fromStdString(p.name),
                  named ? text(p.default_value) : tr("%1 to %2").arg(text(p.minimum), text(p.maximum)) + unit,
                  "small-figure");
        if (!named) {
            const double ms = p.unit == "ms" ? p.default_value : p.unit == "s" ? 1000 * p.default_value : 0;
            const double tempo_bpm = m_services.sources.of(m_services.transport.sourceFile()).tempo_bpm;
            const auto note = processors::noteValue(ms, tempo_bpm);
            addText(tr("default %1").arg(text(p.default_value) + unit) +
                        (note ? tr(", %1 at %2 bpm").arg(QString::fromStdString(*note)).arg(tempo_bpm)
                              : QString()) +
                        (p.isStated() ? QString() : tr(" · its maker states no range")),
                    "faint");
        }
        if (!p.comment.empty())
            addText(QString::fromStdString(p.comment).simplified(), "faint");
    }
}

} // namespace hr::app
