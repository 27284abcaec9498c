// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/build/delivery_view.h"

#include "exchange/report/delivery_text.h"
#include "exchange/report/page.h"
#include "theme/theme.h"
#include "widgets/ask_file.h"
#include "widgets/basics.h"

#include <QComboBox>
#include <QFile>
#include <QFileInfo>
#include <QHeaderView>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace hr::app {

namespace {

/// "integrated, LUFS"
QString nameOf(const std::string& figure)
{
    static const std::vector<std::pair<std::string, QString>> names{
        {"integrated_lufs", QObject::tr("integrated, LUFS")},
        {"momentary_max_lufs", QObject::tr("momentary maximum, LUFS")},
        {"short_term_max_lufs", QObject::tr("short-term maximum, LUFS")},
        {"range_lu", QObject::tr("range, LU")},
        {"true_peak_dbtp", QObject::tr("true peak, dBTP")},
        {"sample_peak_dbfs", QObject::tr("sample peak, dBFS")},
        {"seconds", QObject::tr("length, s")},
        {"channels", QObject::tr("channels")},
        {"sample_rate", QObject::tr("sample rate, Hz")},
        {"bits", QObject::tr("bits")}};
    const auto found = std::ranges::find(names, figure, &std::pair<std::string, QString>::first);
    return found == names.end() ? QString::fromStdString(figure) : found->second;
}

QString wanted(const audition::DeliveryLimit& limit)
{
    const auto text = [](double value) { return number(value, value == std::round(value) ? 0 : 1); };
    if (limit.at_least && limit.at_most)
        return *limit.at_least == *limit.at_most
                   ? text(*limit.at_least)
                   : QObject::tr("%1 to %2").arg(text(*limit.at_least), text(*limit.at_most));
    return limit.at_least ? QObject::tr("at least %1").arg(text(*limit.at_least))
                          : QObject::tr("at most %1").arg(text(*limit.at_most));
}

QString toChange(const audition::DeliveryCheck& check)
{
    if (check.pass)
        return QObject::tr("passes");
    return check.change_db ? QObject::tr("%1 dB").arg(signedNumber(*check.change_db, 1))
                           : QObject::tr("does not pass");
}

} // namespace

DeliveryView::DeliveryView(const BuildServices& services, QWidget* parent)
    : QWidget(parent), m_services(services), m_job(services.delivery), m_targets(audition::shippedTargets())
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    auto* top = new QHBoxLayout;
    m_choice = new QComboBox;
    m_choice->setAccessibleName(tr("target of the delivery"));
    m_choice->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    for (const audition::DeliveryTarget& one : m_targets) {
        m_choice->addItem(QString::fromStdString(one.source));
        m_choice->setItemData(m_choice->count() - 1, QString::fromStdString(one.source), Qt::ToolTipRole);
    }
    top->addWidget(m_choice, 1);
    auto* open = new Button(tr("Open a target"));
    connect(open, &QPushButton::clicked, this, &DeliveryView::openTarget);
    top->addWidget(open);
    column->addLayout(top);
    m_told = paragraph({}, "faint");
    column->addWidget(m_told);
    m_table = new QTableWidget(0, 4);
    m_table->setAccessibleName(tr("checks of the delivery"));
    m_table->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    for (int c = 1; c < 4; ++c)
        m_table->horizontalHeader()->setSectionResizeMode(c, QHeaderView::ResizeToContents);
    m_table->verticalHeader()->hide();
    m_table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    m_table->setSelectionMode(QAbstractItemView::NoSelection);
    m_table->setTabKeyNavigation(false);
    column->addWidget(m_table, 1);
    column->addWidget(makeBelow());
    connect(m_choice, &QComboBox::currentIndexChanged, this, &DeliveryView::reload);
    connect(&m_job, &DeliveryJob::changed, this, &DeliveryView::reload);
    reload();
}

const audition::DeliveryTarget& DeliveryView::target() const
{
    return m_targets[static_cast<std::size_t>(m_choice->currentIndex())];
}

void DeliveryView::openTarget()
{
    askToOpen(this, tr("Open a target"), tr("Targets (*.json)"), [this](const QString& file) {
        const auto read = audition::readTarget(QFile::encodeName(file).toStdString());
        if (!m_services.notices.succeeded(read))
            return;
        m_targets.push_back(*read);
        m_choice->addItem(QString::fromStdString(read->name));
        m_choice->setCurrentIndex(m_choice->count() - 1);
    });
}

QWidget* DeliveryView::makeBelow()
{
    auto* below = new QWidget;
    auto* lines = new QVBoxLayout(below);
    lines->setContentsMargins(0, 0, 0, 0);
    lines->setSpacing(6);
    auto* first = new QHBoxLayout;
    m_check = addButton(*first, new Button(tr("Check the file")), this, [this] {
        if (m_job.isRunning())
            m_job.cancel();
        else
            m_job.start();
    });
    m_write = addButton(*first, new Button(tr("Write it")), this, [this] { write(); });
    m_several = addButton(*first, new Button(tr("Write several")), this, [this] { writeSeveral(); });
    m_several->setToolTip(tr("each of several sources through the chain, into one folder"));
    first->addStretch(1);
    lines->addLayout(first);
    auto* second = new QHBoxLayout;
    m_bits = new QComboBox;
    m_bits->setAccessibleName(tr("bits of a sample"));
    m_bits->addItems({tr("16 bits"), tr("24 bits"), tr("32 bits, float")});
    m_bits->setCurrentIndex(1);
    second->addWidget(m_bits);
    m_rate = new QComboBox;
    m_rate->setAccessibleName(tr("sample rate"));
    m_rate->addItem(tr("same rate"));
    for (const double rate_hz : {44100.0, 48000.0, 88200.0, 96000.0})
        m_rate->addItem(tr("%1 kHz").arg(number(rate_hz / 1000, rate_hz == 48000 || rate_hz == 96000 ? 0 : 1)),
                        rate_hz);
    second->addWidget(m_rate);
    m_page = addButton(*second, new Button(tr("Put on the page")), this, [this] { putOnPage(); });
    m_page->setToolTip(tr("what was found, on the page that is open on Write"));
    second->addStretch(1);
    lines->addLayout(second);
    return below;
}

std::optional<audition::DeliveryFormat> DeliveryView::format(bool flac) const
{
    audition::DeliveryFormat format;
    format.kind = flac ? signal::FileKind::Flac : signal::FileKind::Wav;
    format.samples = m_bits->currentIndex() == 0   ? signal::SampleFormat::Pcm16
                     : m_bits->currentIndex() == 1 ? signal::SampleFormat::Pcm24
                                                   : signal::SampleFormat::Float32;
    if (m_rate->currentIndex() > 0)
        format.sample_rate_hz = m_rate->currentData().toDouble();
    if (!flac || format.samples != signal::SampleFormat::Float32)
        return format;
    m_services.notices.say(tr("FLAC takes 16 or 24 bits: choose one of them, or a WAV file."));
    return std::nullopt;
}

void DeliveryView::write()
{
    askToSave(this, tr("Write what the chain makes of the source"), tr("delivery.wav"),
              tr("Audio (*.wav *.flac)"), [this](const QString& file) {
                  if (const auto wanted = format(file.endsWith(QStringLiteral(".flac"), Qt::CaseInsensitive)))
                      m_job.start(file, *wanted);
              });
}

/// As WAV, which takes every number of bits.
void DeliveryView::writeSeveral()
{
    askToOpenSeveral(
        this, tr("Sources to write"), tr("Audio (*.wav *.flac *.aiff *.aif *.ogg *.mp3)"),
        [this](const QStringList& files) {
            askForFolder(this, tr("Folder to write them into"), [this, files](const QString& folder) {
                std::vector<std::filesystem::path> sources;
                for (const QString& file : files)
                    sources.emplace_back(QFile::encodeName(file).toStdString());
                const auto places =
                    audition::deliveryPlaces(sources, QFile::encodeName(folder).toStdString(), "wav");
                if (const auto wanted = format(false); wanted && m_services.notices.succeeded(places))
                    m_job.startSeveral(*places, *wanted);
            });
        });
}

void DeliveryView::putOnPage()
{
    std::vector<exchange::DeliveryTold> told;
    if (m_job.file())
        told.push_back(
            {QFileInfo(m_job.written().isEmpty() ? m_services.transport.sourceFile() : m_job.written())
                 .fileName()
                 .toStdString(),
             audition::checksOf(target(), *m_job.file())});
    for (const DeliveryJob::One& one : m_job.several())
        told.push_back(
            {one.place.written.filename().string(),
             one.file ? audition::checksOf(target(), *one.file) : std::vector<audition::DeliveryCheck>(),
             one.why_none.toStdString()});
    const auto block = exchange::textBlock(exchange::deliveryAsMarkdown(target().source, told));
    if (m_services.book.current() == 0)
        m_services.book.begin(exchange::newPage(tr("Delivery").toStdString(), {}));
    m_services.book.insert(m_services.book.blocks(), block);
    m_services.notices.say(tr("It stands at the end of the page that is open on Write."));
}

// --- shown -------------------------------------------------------------------------------------------

void DeliveryView::setRow(int row, const std::array<QString, 4>& texts, bool passes)
{
    for (int c = 0; c < 4; ++c) {
        auto* item = new QTableWidgetItem(texts[static_cast<std::size_t>(c)]);
        item->setToolTip(item->text());
        if (c > 0)
            item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        if (c == 3 && !passes)
            item->setForeground(Theme::palette().fault);
        m_table->setItem(row, c, item);
    }
}

void DeliveryView::showChecks(const std::vector<audition::DeliveryCheck>& checks)
{
    m_table->setHorizontalHeaderLabels({tr("figure"), tr("is"), tr("wanted"), tr("change")});
    m_table->setRowCount(static_cast<int>(checks.size()));
    for (std::size_t i = 0; i < checks.size(); ++i)
        setRow(static_cast<int>(i),
               {nameOf(checks[i].limit.figure), checks[i].value ? number(*checks[i].value, 1) : tr("none"),
                wanted(checks[i].limit), toChange(checks[i])},
               checks[i].pass);
}

/// A line a file, with the first that does not pass.
void DeliveryView::showSeveral()
{
    m_table->setHorizontalHeaderLabels({tr("file"), tr("LUFS"), tr("dBTP"), tr("change")});
    m_table->setRowCount(static_cast<int>(m_job.several().size()));
    int row = 0;
    for (const DeliveryJob::One& one : m_job.several()) {
        const QString name = QString::fromStdString(one.place.written.filename().string());
        if (!one.file) {
            setRow(row++, {name, {}, {}, one.why_none}, false);
            continue;
        }
        const auto text = [](const std::optional<double>& value) {
            return value ? number(*value, 1) : tr("none");
        };
        const auto checks = audition::checksOf(target(), *one.file);
        const auto off = std::ranges::find(checks, false, &audition::DeliveryCheck::pass);
        setRow(
            row++,
            {name, text(one.file->loudness.integrated_lufs), text(one.file->loudness.true_peak_dbtp),
             off == checks.end()
                 ? tr("passes")
                 : tr("%1: %2").arg(nameOf(off->limit.figure).section(QLatin1Char(','), 0, 0), toChange(*off))},
            off == checks.end());
    }
}

void DeliveryView::tell()
{
    if (m_job.isRunning())
        return m_told->setText(m_job.progress() > 0
                                   ? tr("%1 % of the files are written.").arg(number(100 * m_job.progress(), 0))
                                   : tr("The whole file is being played through the chain."));
    if (!m_job.whyNone().isEmpty())
        return m_told->setText(m_job.whyNone());
    if (!m_job.several().empty())
        return m_told->setText(
            tr("Written to %1.")
                .arg(QString::fromStdString(m_job.several().front().place.written.parent_path().string())));
    if (!m_job.file())
        return m_told->setText(tr("The whole source through the chain, held against the target."));
    const auto checks = audition::checksOf(target(), *m_job.file());
    const auto off = std::ranges::count(checks, false, &audition::DeliveryCheck::pass);
    const QString verdict =
        off == 0 ? tr("It passes.") : tr("%n of its figures do not pass.", nullptr, int(off));
    m_told->setText(m_job.written().isEmpty() ? verdict
                                              : tr("Written to %1. %2").arg(m_job.written(), verdict));
}

void DeliveryView::reload()
{
    m_check->setText(m_job.isRunning() ? tr("Cancel") : tr("Check the file"));
    m_write->setEnabled(!m_job.isRunning());
    m_several->setEnabled(!m_job.isRunning());
    m_page->setEnabled(m_job.file() || !m_job.several().empty());
    tell();
    if (!m_job.several().empty())
        showSeveral();
    else
        showChecks(m_job.file() ? audition::checksOf(target(), *m_job.file())
                                : std::vector<audition::DeliveryCheck>());
}

} // namespace hr::app
