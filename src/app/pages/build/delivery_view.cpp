// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/build/delivery_view.h"

#include "theme/theme.h"
#include "widgets/ask_file.h"
#include "widgets/basics.h"

#include <QComboBox>
#include <QFile>
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

DeliveryView::DeliveryView(DeliveryJob& job, Notices& notices, QWidget* parent)
    : QWidget(parent), m_job(job), m_notices(notices), m_targets(audition::shippedTargets())
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
    m_table->setHorizontalHeaderLabels({tr("figure"), tr("is"), tr("wanted"), tr("change")});
    m_table->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    for (int c = 1; c < 4; ++c)
        m_table->horizontalHeader()->setSectionResizeMode(c, QHeaderView::ResizeToContents);
    m_table->horizontalHeaderItem(0)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    m_table->verticalHeader()->hide();
    m_table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    m_table->setSelectionMode(QAbstractItemView::NoSelection);
    m_table->setTabKeyNavigation(false);
    column->addWidget(m_table, 1);
    auto* below = new QHBoxLayout;
    m_check = new Button(tr("Check the file"));
    connect(m_check, &QPushButton::clicked, this, [this] {
        if (m_job.isRunning())
            m_job.cancel();
        else
            m_job.start();
    });
    below->addWidget(m_check);
    m_write = new Button(tr("Write it"));
    connect(m_write, &QPushButton::clicked, this, &DeliveryView::write);
    below->addWidget(m_write);
    m_bits = new QComboBox;
    m_bits->setAccessibleName(tr("bits of a sample"));
    m_bits->addItems({tr("16 bits"), tr("24 bits"), tr("32 bits, float")});
    m_bits->setCurrentIndex(1);
    below->addWidget(m_bits);
    below->addStretch(1);
    column->addLayout(below);
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
        if (!m_notices.succeeded(read))
            return;
        m_targets.push_back(*read);
        m_choice->addItem(QString::fromStdString(read->name));
        m_choice->setCurrentIndex(m_choice->count() - 1);
    });
}

void DeliveryView::write()
{
    askToSave(this, tr("Write what the chain makes of the source"), tr("delivery.wav"),
              tr("Audio (*.wav *.flac)"), [this](const QString& file) {
                  audition::DeliveryFormat format;
                  const bool flac = file.endsWith(QStringLiteral(".flac"), Qt::CaseInsensitive);
                  format.kind = flac ? signal::FileKind::Flac : signal::FileKind::Wav;
                  format.samples = m_bits->currentIndex() == 0   ? signal::SampleFormat::Pcm16
                                   : m_bits->currentIndex() == 1 ? signal::SampleFormat::Pcm24
                                                                 : signal::SampleFormat::Float32;
                  if (flac && m_bits->currentIndex() == 2)
                      return m_notices.say(tr("FLAC takes 16 or 24 bits: choose one of them, or a WAV file."));
                  m_job.start(file, format);
              });
}

void DeliveryView::reload()
{
    const auto checks =
        m_job.file() ? audition::checksOf(target(), *m_job.file()) : std::vector<audition::DeliveryCheck>();
    const auto off = std::ranges::count(checks, false, &audition::DeliveryCheck::pass);
    m_check->setText(m_job.isRunning() ? tr("Cancel") : tr("Check the file"));
    m_write->setEnabled(!m_job.isRunning());
    if (m_job.isRunning())
        m_told->setText(tr("The whole file is being played through the chain."));
    else if (!m_job.whyNone().isEmpty())
        m_told->setText(m_job.whyNone());
    else if (checks.empty())
        m_told->setText(tr("The whole source through the chain, held against the target."));
    else {
        const QString verdict =
            off == 0 ? tr("It passes.") : tr("%n of its figures do not pass.", nullptr, int(off));
        m_told->setText(m_job.written().isEmpty() ? verdict
                                                  : tr("Written to %1. %2").arg(m_job.written(), verdict));
    }
    m_table->setRowCount(static_cast<int>(checks.size()));
    for (std::size_t i = 0; i < checks.size(); ++i) {
        const audition::DeliveryCheck& check = checks[i];
        const std::array texts{nameOf(check.limit.figure), check.value ? number(*check.value, 1) : tr("none"),
                               wanted(check.limit), toChange(check)};
        for (int c = 0; c < 4; ++c) {
            auto* item = new QTableWidgetItem(texts[static_cast<std::size_t>(c)]);
            if (c > 0)
                item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            if (c == 3 && !check.pass)
                item->setForeground(Theme::palette().fault);
            m_table->setItem(static_cast<int>(i), c, item);
        }
    }
}

} // namespace hr::app
