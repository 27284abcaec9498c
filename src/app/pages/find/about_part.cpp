// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/find/about_part.h"

#include "hosting/path_text.h"
#include "processors/kinds.h"
#include "processors/settings.h"
#include "theme/theme.h"
#include "widgets/ask_file.h"
#include "widgets/basics.h"

#include <QDesktopServices>
#include <QDirIterator>
#include <QFileInfo>
#include <QGridLayout>
#include <QUrl>
#include <array>

namespace hr::app {

namespace {

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

AboutPart::AboutPart(const FindServices& services, QWidget* parent) : FilledColumn(parent), m_services(services)
{
}

void AboutPart::show(const library::Entry& entry, const processors::ProcessorInfo& info)
{
    m_id = entry.id;
    clear();
    if (entry.state == library::State::Quarantined)
        addQuarantine();
    addCage(entry);
    addPlacing(entry);
    addHelp(entry, info);
    addReadings();
    addPages();
    end();
}

void AboutPart::addHelp(const library::Entry& entry, const processors::ProcessorInfo& info)
{
    if (!info.documentation.empty())
        addText(QString::fromStdString(info.documentation).simplified());
    const auto addLink = [this](const QString& text, const QUrl& address) {
        auto* link = new Button(text);
        link->setToolTip(address.toString().toHtmlEscaped());
        connect(link, &QPushButton::clicked, this, [address] { QDesktopServices::openUrl(address); });
        addButton(link);
    };
    for (const std::string& address : info.links)
        addLink(tr("Read more at %1").arg(QUrl(QString::fromStdString(address)).host()),
                QUrl(QString::fromStdString(address)));
    for (const QString& file : manualsOf(entry.bundle))
        addLink(tr("Open %1").arg(QFileInfo(file).fileName()), QUrl::fromLocalFile(file));
}

/// What it was refused, what it may do, and how to change that.
void AboutPart::addCage(const library::Entry& entry)
{
    const auto change = [this, id = entry.id](const QString& text, const hosting::Permissions& permissions) {
        auto* button = new Button(text);
        connect(button, &QPushButton::clicked, this, [this, id, permissions] {
            if (m_services.notices.succeeded(m_services.store.catalogue.allow(id, permissions)))
                emit changed();
        });
        addButton(button);
    };
    const hosting::Permissions& now = entry.permissions;
    if (now != hosting::Permissions())
        change(tr("Take back what it may do"), {});
    if (now.network)
        addText(tr("It may use the network."), "caution");
    if (!now.folder.empty())
        addText(tr("It may write to %1.").arg(QFile::decodeName(now.folder.c_str())), "caution");
    if (!now.readable.empty())
        addText(tr("It may read %1.").arg(QFile::decodeName(now.readable.c_str())), "caution");
    if (!entry.refusals.any())
        return;
    addText(tr("It %1, which was refused.").arg(QString::fromStdString(inWords(entry.refusals))), "caution");
    hosting::Permissions more = now;
    if (entry.refusals.network && !now.network) {
        more.network = true;
        change(tr("Allow it the network"), more);
    }
    if (const std::string& wanted = entry.refusals.read_path; !wanted.empty() && now.readable.empty()) {
        hosting::Permissions reads = now;
        // The folder of a file, since more of them follow; but never all of the home folder.
        const std::filesystem::path path = hosting::pathFrom(wanted);
        const bool alone = QFileInfo(QFile::decodeName(path.c_str())).isDir() ||
                           path.parent_path() == QFile::encodeName(QDir::homePath()).toStdString();
        reads.readable = alone ? path : path.parent_path();
        change(tr("Allow it to read %1").arg(QFile::decodeName(reads.readable.c_str())), reads);
    }
    if (entry.refusals.files && now.folder.empty()) {
        auto* allow = new Button(tr("Allow it a folder of its own"));
        connect(allow, &QPushButton::clicked, this, [this, id = entry.id, now] {
            askForFolder(this, tr("The folder it may write to"), [this, id, now](const QString& folder) {
                hosting::Permissions permissions = now;
                permissions.folder = QFile::encodeName(folder).toStdString();
                if (m_services.notices.succeeded(m_services.store.catalogue.allow(id, permissions)))
                    emit changed();
            });
        });
        addButton(allow);
    }
}

/// Where nobody has said what it is, what it behaves like.
void AboutPart::addPlacing(const library::Entry& entry)
{
    if (!entry.own_kind.isEmpty()) {
        addText(tr("You placed it under %1.").arg(entry.own_kind), "faint");
        auto* undo = new Button(tr("Back to its maker's kind"));
        connect(undo, &QPushButton::clicked, this, [this] {
            m_services.notebook.write({m_id}, tr("its kind"), [](library::Written& w) { w.own_kind.clear(); });
        });
        addButton(undo);
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
    addButton(place);
}

/// What is known of it as a list would show it; where it has only been measured otherwise, that.
void AboutPart::addReadings()
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
    addSpace(8);
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

/// Where it is written about.
void AboutPart::addPages()
{
    constexpr std::size_t most = 5;
    const auto pages = m_services.store.pages.about(m_id);
    if (!m_services.notices.succeeded(pages) || pages->empty())
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
        addButton(open);
    }
    if (pages->size() > most)
        addText(tr("and on %1 more pages").arg(pages->size() - most), "faint");
}

void AboutPart::addQuarantine()
{
    auto faults = m_services.store.catalogue.faultsOf(m_id);
    if (!faults || faults->empty())
        return;
    const library::QuarantineEntry& last = faults->front();
    addSpace(6);
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
    add(path);
    auto* ways = new QWidget;
    auto* grid = new QGridLayout(ways);
    grid->setContentsMargins(0, 4, 0, 0);
    const auto way = [&](int row, int column, const QString& text, const std::function<void()>& work) {
        auto* button = new Button(text);
        connect(button, &QPushButton::clicked, this, work);
        grid->addWidget(button, row, column);
    };
    way(0, 0, tr("Try it again"), [this] { m_services.scan.tryAgain({m_id}); });
    way(0, 1, tr("Try all again"), [this] { m_services.scan.tryAgain(inQuarantine()); });
    way(1, 0, tr("Open its folder"), [bundle = last.bundle] {
        QDesktopServices::openUrl(
            QUrl::fromLocalFile(QFileInfo(bundle).isDir() ? bundle : QFileInfo(bundle).absolutePath()));
    });
    way(1, 1, tr("Never try again"), [this] {
        m_services.notebook.write({m_id}, tr("never try again"), [](library::Written& w) { w.hidden = true; });
    });
    add(ways);
}

/// All but those that are never to be tried again.
QStringList AboutPart::inQuarantine() const
{
    QStringList ids;
    for (const library::Entry& entry : m_services.processors.finder().entries())
        if (entry.state == library::State::Quarantined && !entry.hidden)
            ids << entry.id;
    return ids;
}

} // namespace hr::app
