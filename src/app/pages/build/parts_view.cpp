// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/build/parts_view.h"

#include "exchange/chain_file.h"
#include "pages/build/add_stage.h"
#include "pages/keep/keep_menu.h"
#include "signal/number_text.h"
#include "theme/theme.h"
#include "widgets/ask_file.h"
#include "widgets/basics.h"
#include "widgets/segments.h"

#include <QFile>
#include <QHeaderView>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace hr::app {

namespace {

enum PartsColumn { PartName, PartLevel, PartPlace, PartLoudness, parts_columns };
constexpr double usual_send_db = -9;

/// "L 40", "middle", "R 100".
QString placeText(double percent)
{
    if (percent == 0)
        return QObject::tr("middle");
    return (percent < 0 ? QObject::tr("L %1") : QObject::tr("R %1")).arg(number(std::abs(percent), 0));
}

/// What placeText() says, or a number from -100 to 100.
std::optional<double> placeIn(const QString& typed)
{
    const QString text = typed.trimmed();
    if (text.compare(QObject::tr("middle"), Qt::CaseInsensitive) == 0)
        return 0;
    const bool left = text.startsWith(QLatin1Char('L'), Qt::CaseInsensitive);
    const bool right = text.startsWith(QLatin1Char('R'), Qt::CaseInsensitive);
    const auto value = signal::typedNumber((left || right ? text.mid(1) : text).toStdString());
    if (!value || std::abs(*value) > 100)
        return std::nullopt;
    return left ? -*value : *value;
}

} // namespace

PartsView::PartsView(const BuildServices& services, QWidget* parent) : QWidget(parent), m_services(services)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    m_heard =
        new Segments(tr("what of the parts is heard"), {tr("Alone"), tr("In company"), tr("Only the others")});
    column->addWidget(m_heard, 0, Qt::AlignLeft);
    column->addWidget(m_told = paragraph({}, "faint"));
    m_table = new QTableWidget(0, parts_columns);
    m_table->setAccessibleName(tr("parts"));
    m_table->setHorizontalHeaderLabels({tr("part"), tr("dB"), tr("place"), tr("LUFS")});
    m_table->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    m_table->horizontalHeader()->setSectionResizeMode(PartName, QHeaderView::Stretch);
    m_table->horizontalHeaderItem(PartName)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    m_table->verticalHeader()->hide();
    m_table->setSelectionBehavior(QAbstractItemView::SelectRows);
    m_table->setSelectionMode(QAbstractItemView::SingleSelection);
    m_table->setTabKeyNavigation(false);
    m_table->setContextMenuPolicy(Qt::CustomContextMenu);
    column->addWidget(m_table, 1);
    column->addWidget(makeButtons());
    connect(m_heard, &Segments::chosen, this,
            [this](int choice) { m_services.parts_play.setHeard(static_cast<PartsPlay::Heard>(choice)); });
    connect(m_table, &QTableWidget::itemChanged, this, &PartsView::edited);
    connect(m_table, &QWidget::customContextMenuRequested, this, &PartsView::openMenu);
    connect(m_table, &QTableWidget::cellDoubleClicked, this, [this](int row, int cell) {
        if (cell == PartName || cell == PartLoudness)
            m_services.parts.workOn(idAt(row));
    });
    connect(&m_services.parts, &PartsDraft::changed, this, &PartsView::reload);
    connect(&m_services.parts_play, &PartsPlay::changed, this, &PartsView::reload);
    reload();
}

QWidget* PartsView::makeButtons()
{
    auto* buttons = new QWidget;
    auto* row = new QHBoxLayout(buttons);
    row->setContentsMargins(0, 0, 0, 0);
    const auto add = [&](const QString& words, const QString& tip, const std::function<void()>& work) {
        addButton(*row, new Button(words), this, work)->setToolTip(tip);
    };
    add(tr("Add source"), tr("what plays now becomes a part"),
        [this] { m_services.parts.addSource(m_services.transport.sourceFile()); });
    add(tr("Work on it"), tr("its chain is drawn above, its sound is the source"),
        [this] { m_services.parts.workOn(current()); });
    add(tr("Hear the sum"), tr("all parts through the chain on their sum, as a candidate"),
        [this] { m_services.parts_play.hearSum(); });
    auto* more = new Button(tr("More"));
    connect(more, &QPushButton::clicked, this,
            [this, more] { openMenu(m_table->viewport()->mapFromGlobal(more->mapToGlobal(QPoint(0, 0)))); });
    row->addWidget(more);
    row->addStretch(1);
    return buttons;
}

std::string PartsView::idAt(int row) const
{
    const QTableWidgetItem* item = m_table->item(row, PartName);
    return item ? item->data(Qt::UserRole).toString().toStdString() : std::string();
}

std::string PartsView::current() const
{
    return idAt(m_table->currentRow());
}

// --- shown -------------------------------------------------------------------------------------------

void PartsView::fillRow(int row, const std::string& id, const chain::Standing* standing)
{
    const auto put = [&](int column, const QString& text, bool editable) {
        auto* item = new QTableWidgetItem(text);
        item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable |
                       (editable ? Qt::ItemIsEditable : Qt::NoItemFlags));
        if (column > PartName) {
            item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            item->setFont(Theme::figures(Theme::text_px));
        }
        m_table->setItem(row, column, item);
        return item;
    };
    QTableWidgetItem* name = put(PartName, m_services.parts.nameOf(id), false);
    name->setData(Qt::UserRole, QString::fromStdString(id));
    if (id == m_services.parts.worked()) {
        name->setFont(Theme::words(Theme::text_px, QFont::DemiBold));
        name->setText(tr("%1, worked on").arg(name->text()));
    }
    if (standing) {
        name->setFlags(name->flags() | Qt::ItemIsUserCheckable);
        name->setCheckState(standing->heard ? Qt::Checked : Qt::Unchecked);
        name->setToolTip(tr("heard, or not"));
    }
    put(PartLevel, standing ? number(standing->level_db, 1) : QString(), standing != nullptr);
    put(PartPlace, standing ? placeText(standing->place_percent) : QString(), standing != nullptr);
    const auto& levels = m_services.parts_play.levels();
    const auto level = levels.find(id);
    put(PartLoudness, level != levels.end() && level->second ? number(*level->second, 1) : QString(), false);
}

void PartsView::reload()
{
    const chain::Company& company = m_services.parts.company();
    const std::string before = current();
    m_filling = true;
    m_table->setRowCount(0);
    m_table->setRowCount(
        company.parts.empty() ? 0 : static_cast<int>(company.parts.size() + company.returns.size() + 1));
    int row = 0;
    for (const chain::Part& part : company.parts)
        fillRow(row++, part.id, &part.standing);
    for (const chain::Return& back : company.returns)
        fillRow(row++, back.id, &back.standing);
    if (row > 0)
        fillRow(row, PartsDraft::the_sum, nullptr);
    for (int r = 0; r < m_table->rowCount(); ++r)
        if (idAt(r) == before)
            m_table->setCurrentCell(r, PartName);
    m_filling = false;
    const chain::Part* worked = company.part(m_services.parts.worked());
    const QString sends =
        worked && !worked->sends.empty() ? tr(" It sends what the chain above makes of it.") : QString();
    const PartsPlay& play = m_services.parts_play;
    m_heard->setCurrent(static_cast<int>(play.heard()));
    m_heard->setEnabled(!company.parts.empty());
    m_told->setText(
        company.parts.empty()
            ? tr("A processor that shines alone may sink among others. Add the source that plays, then "
                 "the next one: they play in step.")
        : !play.whyNot().isEmpty()                ? play.whyNot()
        : play.isPending()                        ? tr("The others are being made …")
        : play.heard() == PartsPlay::Heard::Alone ? tr("A double click works on a part.")
                                                  : tr("Matched by its own loudness: the balance "
                                                       "stays whoever is heard.%1")
                                                        .arg(sends));
}

// --- by hand -----------------------------------------------------------------------------------------

void PartsView::edited(QTableWidgetItem* item)
{
    if (m_filling)
        return;
    const std::string id = idAt(item->row());
    PartsDraft& parts = m_services.parts;
    const QString text = item->text();
    // What is changed fills the table again, with this item gone.
    if (item->column() == PartName)
        return parts.changeStanding(
            id, [on = item->checkState() == Qt::Checked](chain::Standing& s) { s.heard = on; });
    if (item->column() == PartLevel) {
        QString figure = text.trimmed();
        if (figure.endsWith(QStringLiteral("dB"), Qt::CaseInsensitive))
            figure.chop(2);
        const auto level_db = signal::typedNumber(figure.toStdString());
        if (level_db && *level_db >= -60 && *level_db <= 24)
            return parts.changeStanding(id, [&](chain::Standing& s) { s.level_db = *level_db; });
        m_services.notices.say(tr("“%1” is not a level: type −60 to +24 dB.").arg(text));
    } else if (const auto place = placeIn(text)) {
        return parts.changeStanding(id, [&](chain::Standing& s) { s.place_percent = *place; });
    } else {
        m_services.notices.say(tr("“%1” is not a place: type L 40, middle or R 100.").arg(text));
    }
    reload();
}

void PartsView::openMenu(const QPoint& at)
{
    const chain::Company& company = m_services.parts.company();
    const std::string id = current();
    QMenu* menu = menuFor(this);
    if (const chain::Part* part = company.part(id)) {
        for (const chain::Return& back : company.returns) {
            const auto send = std::ranges::find(part->sends, back.id, &chain::Part::SendTo::to);
            const bool on = send != part->sends.end();
            QAction* one = menu->addAction(
                tr("sends to %1, %2 dB")
                    .arg(QString::fromStdString(back.name), number(on ? send->level_db : usual_send_db, 0)),
                this, [this, id, to = back.id, on] {
                    m_services.parts.setSend(id, to, on ? std::nullopt : std::optional(usual_send_db));
                });
            one->setCheckable(true);
            one->setChecked(on);
        }
        QAction* repeats =
            menu->addAction(tr("repeats where it is shorter"), this,
                            [this, id, on = !part->repeats] { m_services.parts.setRepeats(id, on); });
        repeats->setCheckable(true);
        repeats->setChecked(part->repeats);
        menu->addSeparator();
    }
    menu->addAction(tr("A return, with an effect …"), this, &PartsView::addReturn)
        ->setEnabled(!company.parts.empty());
    if (!id.empty() && id != PartsDraft::the_sum)
        menu->addAction(tr("Remove %1").arg(m_services.parts.nameOf(id)), this,
                        [this, id] { m_services.parts.remove(id); });
    menu->addSeparator();
    menu->addAction(tr("Open parts …"), this, [this] {
        askToOpen(this, tr("Open parts"), tr("Parts (*.json)"), [this](const QString& file) {
            m_services.parts.openFile(QFile::encodeName(file).toStdString());
        });
    });
    menu->addAction(tr("Save parts …"), this,
                    [this] {
                        askToSave(this, tr("Save parts"), tr("parts.json"), tr("Parts (*.json)"),
                                  [this](const QString& file) { saveTo(file); });
                    })
        ->setEnabled(!company.parts.empty());
    menu->addAction(tr("Keep the parts …"), this,
                    [this] {
                        openKeepMenu(m_services.keeping, m_services.notices, m_table,
                                     [this] { return std::vector{m_services.parts.item()}; });
                    })
        ->setEnabled(!company.parts.empty());
    menu->popup(m_table->viewport()->mapToGlobal(at));
}

void PartsView::addReturn()
{
    AddStage::open(m_services, this, mapToGlobal(rect().center()), tr("the effect of the return"),
                   [this](chain::Node effect) {
                       m_services.facts.makeFullyWet(effect);
                       m_services.parts.addReturn(effect);
                   });
}

void PartsView::saveTo(const QString& file)
{
    m_services.notices.say(savedOrWhy(
        exchange::writeCompany(QFile::encodeName(file).toStdString(), m_services.parts.company()), file));
}

} // namespace hr::app
