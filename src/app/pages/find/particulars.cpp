// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/find/particulars.h"

#include "pages/find/kin_list.h"
#include "pages/find/preset_list.h"
#include "pages/find/written_editor.h"
#include "processors/kinds.h"
#include "processors/note_value.h"
#include "processors/value_text.h"
#include "theme/theme.h"
#include "widgets/keep_menu.h"
#include "widgets/segments.h"

#include <QDesktopServices>
#include <QDirIterator>
#include <QFileInfo>
#include <QGridLayout>
#include <QScrollArea>
#include <QUrl>
#include <QVBoxLayout>

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

nlohmann::ordered_json asNew(const processors::ProcessorInfo& info)
{
    auto settings = nlohmann::ordered_json::object();
    for (const auto& p : info.parameters)
        settings[p.key] = p.default_value;
    return settings;
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

Particulars::Particulars(Desk& desk, QWidget* parent) : Sheet(parent), m_desk(desk)
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
    m_presets = new PresetList(m_desk);
    m_stack->addWidget(m_presets);
    m_kin = new KinList(m_desk);
    connect(m_kin, &KinList::chosen, this, &Particulars::chosen);
    m_stack->addWidget(m_kin);
    column->addWidget(parts, 1);
    column->addWidget(makeWays());
    connect(&m_desk.bench, &BenchQueue::measured, this, [this](const QString& id) {
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
    m_editor = new WrittenEditor(m_desk);
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
    connect(listen, &QPushButton::clicked, this, [this] {
        for (const QString& id : m_selected)
            m_desk.listenTo(id);
    });
    connect(measure, &QPushButton::clicked, this, [this] { m_desk.measure(m_id); });
    connect(build, &QPushButton::clicked, this, [this] { m_desk.build(m_selected); });
    connect(keep, &QPushButton::clicked, this,
            [this, keep] { openKeepMenu(m_desk, keep, [this] { return itemsAsNew(m_selected); }); });
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

void Particulars::show(const QString& id, const QStringList& selected, bool anew)
{
    const bool same = id == m_id && selected == m_selected;
    if (same && !anew)
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
        if (auto entry = m_desk.store->catalogue.entry(one))
            entries.push_back(std::move(*entry));
    m_editor->show(entries);
}

void Particulars::fill()
{
    clear(m_head);
    m_body = m_head;
    auto entry = m_desk.store->catalogue.entry(m_id);
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
    const bool usable = entry->state != library::State::Quarantined;
    for (auto* button : m_ways->findChildren<QPushButton*>())
        button->setEnabled(usable || button->text() == tr("Keep"));
    fillPart();
}

void Particulars::fillPart()
{
    auto entry = m_desk.store->catalogue.entry(m_id);
    auto info = m_desk.store->catalogue.info(m_id);
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
    addPlacing(entry);
    addHelp(entry, info);
    addReadings();
    m_body->addStretch();
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

/// Where nobody has said what it is, what it behaves like.
void Particulars::addPlacing(const library::Entry& entry)
{
    if (!entry.own_kind.isEmpty()) {
        addText(tr("You placed it under %1.").arg(entry.own_kind), "faint");
        auto* undo = new Button(tr("Where its maker has it"));
        connect(undo, &QPushButton::clicked, this, [this] {
            m_desk.write({m_id}, tr("its kind"), [](library::Written& w) { w.own_kind.clear(); });
        });
        m_body->addWidget(undo, 0, Qt::AlignLeft);
        return;
    }
    const QString like = m_desk.processors.figures(m_id).behaves_like;
    if (like.isEmpty() || entry.kind.toStdString() != processors::unplaced_kind)
        return;
    addText(tr("Its maker gives it no class. As measured it behaves like: %1.").arg(like));
    auto* place = new Button(tr("Place it under %1").arg(like));
    connect(place, &QPushButton::clicked, this, [this, like] {
        m_desk.write({m_id}, tr("its kind"), [like](library::Written& w) { w.own_kind = like; });
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
    auto faults = m_desk.store->catalogue.faultsOf(m_id);
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
    add(0, 0, tr("Try it again"), [this] { m_desk.scan.tryAgain({m_id}); });
    add(0, 1, tr("Try all again"), [this] { m_desk.scan.tryAgain(inQuarantine()); });
    add(1, 0, tr("Open its folder"), [bundle = last.bundle] {
        QDesktopServices::openUrl(
            QUrl::fromLocalFile(QFileInfo(bundle).isDir() ? bundle : QFileInfo(bundle).absolutePath()));
    });
    add(1, 1, tr("Never try again"),
        [this] { m_desk.write({m_id}, tr("never try again"), [](library::Written& w) { w.hidden = true; }); });
    m_body->addWidget(ways);
}

/// All but those that are never to be tried again.
QStringList Particulars::inQuarantine() const
{
    QStringList ids;
    for (const library::Entry& entry : m_desk.processors.finder().entries())
        if (entry.state == library::State::Quarantined && !entry.hidden)
            ids << entry.id;
    return ids;
}

void Particulars::addReadings()
{
    auto latest = m_desk.store->readings.latest(m_id);
    if (!latest || latest->empty())
        return;
    m_body->addSpacing(8);
    // Lists show processors as they are new; this is the newest, whatever it was measured at.
    const auto info = m_desk.store->catalogue.info(m_id);
    const bool changed = info && latest->back().settings != asNew(*info);
    addText(changed ? tr("Measured %1, at settings of your own").arg(latest->back().taken.left(10))
                    : tr("Measured %1, as new").arg(latest->back().taken.left(10)),
            "strong");
    const auto figure = [&](const char* test, const char* key, const QString& name, const QString& unit,
                            int digits) {
        for (const library::StoredReading& stored : *latest)
            if (stored.test == QLatin1String(test))
                if (const auto value = stored.reading.number(key))
                    addFigure(name, figureText(*value, unit, digits) + QLatin1Char(' ') + unit);
    };
    figure("response", "gain_1k_db", tr("gain at 1 kHz"), tr("dB"), 2);
    figure("response", "corner_low_hz", tr("lower corner"), tr("Hz"), 0);
    figure("response", "corner_high_hz", tr("upper corner"), tr("Hz"), 0);
    figure("harmonics", "thd_percent", tr("THD at 1 kHz, −12 dBFS"), tr("%"), 3);
    figure("noise", "idle_dbfs", tr("idle noise"), tr("dBFS"), 1);
    figure("loudness_shift", "shift_lu", tr("loudness shift"), tr("LU"), 2);
    figure("cost", "latency_found_samples", tr("latency found"), tr("samples"), 0);
    figure("cost", "realtime_factor", tr("speed"), tr("× real time"), 0);
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
            const auto note = processors::noteValue(ms, m_desk.tempo_bpm);
            addText(tr("as new %1").arg(text(p.default_value) + unit) +
                        (note ? tr(", %1 at %2 bpm").arg(QString::fromStdString(*note)).arg(m_desk.tempo_bpm)
                              : QString()),
                    "faint");
        }
        if (!p.comment.empty())
            addText(QString::fromStdString(p.comment).simplified(), "faint");
    }
}

} // namespace hr::app
