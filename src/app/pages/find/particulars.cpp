// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/find/particulars.h"

#include "pages/find/written_editor.h"
#include "processors/value_text.h"
#include "theme/theme.h"
#include "widgets/keep_menu.h"

#include <QDesktopServices>
#include <QFileInfo>
#include <QGridLayout>
#include <QScrollArea>
#include <QUrl>
#include <QVBoxLayout>

namespace hr::app {

Particulars::Particulars(Desk& desk, QWidget* parent) : Sheet(parent), m_desk(desk)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 14, 6, 14);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFocusPolicy(Qt::NoFocus);
    auto* body = new QWidget;
    body->setObjectName(QStringLiteral("scrolled"));
    scroll->viewport()->setAutoFillBackground(false);
    m_body = new QVBoxLayout(body);
    m_body->setContentsMargins(0, 0, 10, 0);
    m_body->setSpacing(4);
    scroll->setWidget(body);
    column->addWidget(scroll, 1);

    m_editor = new WrittenEditor(m_desk);
    column->addWidget(m_editor);
    m_ways = new QWidget;
    auto* ways = new QHBoxLayout(m_ways);
    ways->setContentsMargins(0, 8, 10, 0);
    auto* listen = (new Button(tr("Listen")))->main();
    auto* measure = new Button(tr("Measure"));
    auto* keep = new Button(tr("Keep"));
    connect(listen, &QPushButton::clicked, this, [this] {
        for (const QString& id : m_selected)
            m_desk.listenTo(id);
    });
    connect(measure, &QPushButton::clicked, this, [this] { m_desk.measure(m_id); });
    connect(keep, &QPushButton::clicked, this, [this, keep] {
        openKeepMenu(m_desk, keep, [this] { return std::pair(m_id, std::vector<processors::Setting>()); });
    });
    for (Button* button : {listen, measure, keep})
        ways->addWidget(button);
    ways->addStretch();
    column->addWidget(m_ways);
    connect(&m_desk.bench, &BenchQueue::measured, this, [this](const QString& id) {
        if (id == m_id)
            fill();
    });
}

void Particulars::show(const QString& id, const QStringList& selected)
{
    const bool same = id == m_id && selected == m_selected;
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
    while (QLayoutItem* item = m_body->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    auto entry = m_desk.store->catalogue.entry(m_id);
    auto info = m_desk.store->catalogue.info(m_id);
    m_ways->setVisible(!m_id.isEmpty());
    if (m_id.isEmpty() || !entry || !info) {
        addText(tr("Select a processor to see what is known about it."), "faint");
        m_body->addStretch();
        return;
    }
    addText(m_selected.size() > 1 ? tr("%1 and %2 more").arg(entry->title()).arg(m_selected.size() - 1)
                                  : entry->title(),
            "heading");
    if (!entry->alias.isEmpty())
        addText(tr("its maker calls it %1").arg(entry->name), "faint");
    QStringList of{entry->maker, entry->kind, entry->format + QLatin1Char(' ') + entry->version};
    of.removeAll(QString());
    addText(of.join(QStringLiteral(" · ")), "faint");
    if (entry->state == library::State::Quarantined)
        addQuarantine();
    const bool usable = entry->state != library::State::Quarantined;
    for (auto* button : m_ways->findChildren<QPushButton*>())
        button->setEnabled(usable || button->text() == tr("Keep"));
    if (!info->documentation.empty()) {
        m_body->addSpacing(6);
        addText(QString::fromStdString(info->documentation).simplified());
    }
    addReadings();
    addParameters(*info);
    m_body->addStretch();
}

void Particulars::addText(const QString& text, const char* role)
{
    QLabel* made = label(text, role);
    made->setWordWrap(true);
    m_body->addWidget(made);
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
    addText(tr("Tried %1 in %2. Honest Rack went on without it; a scan tries it again once its files change.")
                .arg(QString(last.at).replace(QLatin1Char('T'), QLatin1Char(' ')).remove(QLatin1Char('Z')),
                     last.bundle.section(QLatin1Char('/'), -1)),
            "faint");
    m_body->itemAt(m_body->count() - 1)->widget()->setToolTip(last.bundle.toHtmlEscaped());
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
    addText(tr("Measured %1").arg(latest->back().taken.left(10)), "strong");
    const auto figure = [&](const char* test, const char* key, const QString& name, const QString& unit,
                            int digits) {
        for (const library::StoredReading& stored : *latest)
            if (stored.test == QLatin1String(test))
                if (const auto value = stored.reading.number(key))
                    addFigure(name, number(*value, digits) + QLatin1Char(' ') + unit);
    };
    figure("response", "gain_1k_db", tr("gain at 1 kHz"), tr("dB"), 2);
    figure("response", "corner_low_hz", tr("lower corner"), tr("Hz"), 0);
    figure("response", "corner_high_hz", tr("upper corner"), tr("Hz"), 0);
    figure("harmonics", "thd_percent", tr("THD at 1 kHz, −12 dBFS"), tr("%"), 3);
}

void Particulars::addParameters(const processors::ProcessorInfo& info)
{
    if (info.parameters.empty())
        return;
    m_body->addSpacing(8);
    addText(tr("Parameters"), "strong");
    for (const auto& p : info.parameters) {
        const auto text = [&](double value) { return QString::fromStdString(processors::valueText(p, value)); };
        QString range = processors::hasNamedValues(p) ? text(p.default_value)
                                                      : tr("%1 to %2").arg(text(p.minimum), text(p.maximum));
        if (!p.unit.empty())
            range += QLatin1Char(' ') + QString::fromStdString(p.unit);
        addFigure(QString::fromStdString(p.name), range, "small-figure");
    }
    if (!info.presets.empty()) {
        m_body->addSpacing(8);
        addText(tr("Presets"), "strong");
        for (const auto& preset : info.presets)
            addText(QString::fromStdString(preset.name));
    }
}

} // namespace hr::app
