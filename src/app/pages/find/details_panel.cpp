// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/find/details_panel.h"

#include "pages/find/about_part.h"
#include "pages/find/preset_list.h"
#include "pages/find/similar_list.h"
#include "pages/find/written_editor.h"
#include "pages/keep/keep_menu.h"
#include "processors/note_value.h"
#include "processors/value_text.h"
#include "widgets/filled_column.h"
#include "widgets/segments.h"

#include <QVBoxLayout>

namespace hr::app {

namespace {

enum Part { About, Parameters, Presets, Similar };

} // namespace

DetailsPanel::DetailsPanel(const FindServices& services, QWidget* parent) : Sheet(parent), m_services(services)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 14, 6, 14);
    column->setSpacing(6);
    auto* head = new QWidget;
    auto* lines = new QVBoxLayout(head);
    lines->setContentsMargins(0, 0, 10, 0);
    lines->setSpacing(2);
    m_title = paragraph({}, "heading");
    lines->addWidget(m_title);
    for (QLabel*& line : m_under_title)
        lines->addWidget(line = paragraph({}, "faint"));
    column->addWidget(head);
    m_parts = new Segments(tr("particulars"), {tr("About"), tr("Controls"), tr("Presets"), tr("Alike")});
    connect(m_parts, &Segments::chosen, this, &DetailsPanel::showPart);
    column->addWidget(m_parts);
    auto* parts = new QWidget;
    m_stack = new Stack(parts);
    m_stack->addWidget(makeAbout());
    m_parameters = new FilledColumn;
    m_stack->addWidget(m_parameters);
    m_presets = new PresetList(m_services);
    m_stack->addWidget(m_presets);
    m_kin = new SimilarList(m_services);
    connect(m_kin, &SimilarList::chosen, this, &DetailsPanel::chosen);
    m_stack->addWidget(m_kin);
    column->addWidget(parts, 1);
    column->addWidget(makeWays());
    connect(&m_services.store.changes(), &library::Changes::measured, this, [this](const QString& id) {
        if (id == m_id)
            fill();
    });
}

QWidget* DetailsPanel::makeAbout()
{
    auto* about = new QWidget;
    auto* column = new QVBoxLayout(about);
    column->setContentsMargins(0, 0, 0, 0);
    m_about = new AboutPart(m_services);
    connect(m_about, &AboutPart::changed, this, &DetailsPanel::fill);
    column->addWidget(m_about, 1);
    m_editor = new WrittenEditor(m_services);
    column->addWidget(m_editor);
    return about;
}

QWidget* DetailsPanel::makeWays()
{
    m_ways = new QWidget;
    auto* ways = new QHBoxLayout(m_ways);
    ways->setContentsMargins(0, 4, 10, 0);
    ways->setSpacing(4);
    auto* listen = (new Button(tr("Listen")))->main();
    auto* measure = new Button(tr("Measure"));
    auto* build = new Button(tr("Build"));
    auto* keep = new Button(tr("Keep"));
    connect(listen, &QPushButton::clicked, this, [this] { m_services.routes.listenTo(m_selected); });
    connect(measure, &QPushButton::clicked, this, [this] { m_services.routes.measure(m_id); });
    connect(build, &QPushButton::clicked, this, [this] { m_services.routes.build(m_selected); });
    connect(keep, &QPushButton::clicked, this, [this, keep] {
        openKeepMenu(m_services.keeping, m_services.notices, keep,
                     [this] { return itemsAtDefaults(m_selected); });
    });
    for (Button* button : {listen, measure, build, keep})
        ways->addWidget(button);
    ways->addStretch();
    return m_ways;
}

void DetailsPanel::showPart(int part)
{
    m_parts->setCurrent(part);
    m_stack->setCurrentIndex(part);
    fillPart();
}

void DetailsPanel::show(const QString& id, const QStringList& selected, bool again)
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

void DetailsPanel::fillEditor()
{
    std::vector<library::Entry> entries;
    for (const QString& one : m_selected)
        if (auto entry = m_services.store.catalogue.entry(one))
            entries.push_back(std::move(*entry));
    m_editor->show(entries);
}

void DetailsPanel::fill()
{
    auto entry = m_services.store.catalogue.entry(m_id);
    const bool any = !m_id.isEmpty() && entry;
    m_ways->setVisible(any);
    m_parts->setVisible(any);
    m_stack->parentWidget()->setVisible(any);
    m_title->setVisible(any);
    if (!any)
        return sayUnderTitle({tr("Select a processor to see what is known about it.")});
    m_title->setText(m_selected.size() > 1 ? tr("%1 and %2 more").arg(entry->title()).arg(m_selected.size() - 1)
                                           : entry->title());
    QStringList of{entry->maker, entry->kind, entry->format + QLatin1Char(' ') + entry->version};
    of.removeAll(QString());
    sayUnderTitle({entry->alias.isEmpty() ? QString() : tr("its maker calls it %1").arg(entry->name),
                   of.join(QStringLiteral(" · ")),
                   entry->kind_proposed
                       ? tr("Its maker states no kind: “%1” is a guess from its name.").arg(entry->kind)
                       : QString()});
    const bool usable = entry->state != library::State::Quarantined;
    for (auto* button : m_ways->findChildren<QPushButton*>())
        button->setEnabled(usable || button->text() == tr("Keep"));
    fillPart();
}

/// As many lines as there are; those that are empty take no room.
void DetailsPanel::sayUnderTitle(const QStringList& lines)
{
    for (std::size_t i = 0; i < m_under_title.size(); ++i) {
        const QString text = lines.value(static_cast<int>(i));
        m_under_title[i]->setText(text);
        m_under_title[i]->setVisible(!text.isEmpty());
    }
}

void DetailsPanel::fillPart()
{
    auto entry = m_services.store.catalogue.entry(m_id);
    auto info = m_services.store.catalogue.info(m_id);
    if (!entry || !info)
        return;
    switch (m_stack->currentIndex()) {
    case About:
        return m_about->show(*entry, *info);
    case Parameters:
        return fillParameters(*info);
    case Presets:
        return m_presets->show(*info);
    case Similar:
        return m_kin->show(m_id);
    default:
        return;
    }
}

void DetailsPanel::fillParameters(const processors::ProcessorInfo& info)
{
    m_parameters->clear();
    if (info.parameters.empty())
        m_parameters->addText(tr("It has no controls."), "faint");
    for (const auto& p : info.parameters) {
        const auto text = [&](double value) { return QString::fromStdString(processors::valueText(p, value)); };
        const QString unit = p.unit.empty() ? QString() : QLatin1Char(' ') + QString::fromStdString(p.unit);
        const bool named = processors::hasNamedValues(p);
        m_parameters->addFigure(QString::fromStdString(p.name),
                                named ? text(p.default_value)
                                      : tr("%1 to %2").arg(text(p.minimum), text(p.maximum)) + unit,
                                "small-figure");
        if (!named) {
            const double ms = p.unit == "ms" ? p.default_value : p.unit == "s" ? 1000 * p.default_value : 0;
            const double tempo_bpm = m_services.sources.of(m_services.transport.sourceFile()).tempo_bpm;
            const auto note = processors::noteValue(ms, tempo_bpm);
            m_parameters->addText(
                tr("default %1").arg(text(p.default_value) + unit) +
                    (note ? tr(", %1 at %2 bpm").arg(QString::fromStdString(*note)).arg(tempo_bpm)
                          : QString()) +
                    (p.isStated() ? QString() : tr(" · its maker states no range")),
                "faint");
        }
        if (!p.comment.empty())
            m_parameters->addText(QString::fromStdString(p.comment).simplified(), "faint");
    }
    m_parameters->end();
}

} // namespace hr::app
