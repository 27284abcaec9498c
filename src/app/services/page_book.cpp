// SPDX-License-Identifier: GPL-3.0-or-later
#include "services/page_book.h"

#include "actions/undoable.h"
#include "bench/figure_text.h"

#include <QDate>
#include <algorithm>

namespace hr::app {

using nlohmann::ordered_json;

namespace {

constexpr int saved_after_ms = 800;
constexpr int first_joined_id = 7000; // of QUndoCommand::id(): steps that join begin here

/// Typing in one place is one step.
class PageChange : public QUndoCommand {
public:
    using Become = std::function<void(const ordered_json& page, bool shown_already)>;

    PageChange(const QString& what, qint64 row_id, ordered_json before, ordered_json after, int same,
               Become become)
        : QUndoCommand(what), m_row_id(row_id), m_before(std::move(before)), m_after(std::move(after)),
          m_same(same), m_become(std::move(become))
    {
    }
    int id() const override { return m_same < 0 ? -1 : first_joined_id + m_same; }
    bool mergeWith(const QUndoCommand* other) override
    {
        const auto* next = static_cast<const PageChange*>(other);
        if (next->m_row_id != m_row_id)
            return false; // the same place on another page
        m_after = next->m_after;
        return true;
    }
    void redo() override { m_become(m_after, std::exchange(m_first, false) && m_same >= 0); }
    void undo() override { m_become(m_before, false); }

private:
    qint64 m_row_id;
    ordered_json m_before, m_after;
    int m_same;
    Become m_become;
    bool m_first = true; // what was typed is on the screen already
};

/// Whether all who were tried are among these set-ups; the source always is.
bool isAmong(const library::Trial& trial, const QStringList& set_ups)
{
    const bool of_two = trial.document.value("kind", std::string("abx")) == "abx";
    const QStringList tried =
        of_two ? QStringList{trial.first, trial.second} : trial.second.split(QLatin1Char('\n'));
    return std::ranges::all_of(tried, [&set_ups](const QString& one) { return set_ups.contains(one); });
}

/// So that Markdown shows it as it is.
QString plain(const QString& text)
{
    return QString::fromStdString(exchange::asMarkdown(text.toStdString()));
}

bool hasBlock(const ordered_json& page, std::size_t block)
{
    return page.contains("blocks") && block < page["blocks"].size();
}

} // namespace

PageBook::PageBook(library::Store& store, QUndoStack& undo, Notices& notices, QObject* parent)
    : QObject(parent), m_store(store), m_undo(undo), m_notices(notices),
      m_soon(saved_after_ms, [this] { save(); })
{
    connect(&m_store.changes(), &library::Changes::measured, this, [this](const QString& processor) {
        for (const auto& subject : m_page.value("subjects", ordered_json::array()))
            if (subject.value("processor", std::string()) == processor.toStdString())
                return emit readingsChanged();
    });
}

PageBook::~PageBook()
{
    save();
}

std::vector<library::NotebookPage> PageBook::all(const QString& words) const
{
    auto pages = m_store.pages.all(words);
    return m_notices.succeeded(pages) ? std::move(*pages) : std::vector<library::NotebookPage>();
}

ordered_json PageBook::part(std::size_t block) const
{
    return exchange::resolveBlock(m_store, m_page, m_page["blocks"][block]);
}

void PageBook::become(qint64 row_id, const ordered_json& page)
{
    save();
    m_row_id = row_id;
    m_page = page;
    emit pageChanged();
    emit listChanged();
}

void PageBook::open(qint64 row_id)
{
    if (row_id == m_row_id)
        return;
    save(); // before it is read, in case it is the same
    const auto page = m_store.pages.one(row_id);
    if (!m_notices.succeeded(page))
        return;
    if (auto sound = exchange::checkPage(page->document); !m_notices.succeeded(sound))
        return;
    become(row_id, page->document);
}

void PageBook::begin(const ordered_json& page)
{
    const auto row_id = m_store.pages.add(page);
    if (m_notices.succeeded(row_id))
        become(*row_id, page);
}

void PageBook::beginAbout(const LineUp& line_up, const BenchQueue& bench, const Heard& heard)
{
    std::vector<exchange::PageSubject> subjects;
    QStringList keys{QStringLiteral("source")};
    QStringList titles;
    for (const Contender& contender : line_up.candidates()) {
        if (!contender.isMeasurable())
            continue;
        subjects.push_back({contender.mark, contender.title.toStdString(), contender.maker.toStdString(),
                            bench.setUpOf(contender), exchange::shownSettings(contender.info, contender.values),
                            contender.info.kind});
        if (contender.gain_known)
            subjects.back().shown.push_back(
                {tr("gain that matched it").toStdString(), bench::numberText(contender.gain_db, 1) + " dB"});
        keys << subjects.back().set_up.key();
        titles << QString::fromStdString(exchange::letterOf(contender.mark)) + QLatin1Char(' ') +
                      contender.title;
    }
    std::vector<ordered_json> trials;
    if (const auto all = m_store.trials.all(); m_notices.succeeded(all))
        for (const library::Trial& trial : *all)
            if (isAmong(trial, keys))
                trials.push_back(trial.document);
    const QString title =
        subjects.size() == 1
            ? line_up.candidates().front().title
            : tr("%1 compared, %2").arg(subjects.size()).arg(QDate::currentDate().toString(Qt::ISODate));
    auto page = exchange::newPage(title.toStdString(), subjects, trials);
    const auto fair = line_up.fairWithinLu();
    QString words = tr("About %1.").arg(plain(titles.join(QStringLiteral(", "))));
    if (!heard.on.isEmpty())
        words += fair ? tr(" Heard on %1, all at one loudness within %2 LU.")
                            .arg(plain(heard.on), QString::number(*fair, 'f', 2))
                      : tr(" Heard on %1, not matched.").arg(plain(heard.on));
    if (page["blocks"].empty())
        return;
    page["blocks"][0] = exchange::textBlock(words.toStdString());
    page["line_up"] = heard.line_up;
    begin(page);
}

void PageBook::remove(qint64 row_id)
{
    save();
    const auto page = m_store.pages.one(row_id);
    if (!m_notices.succeeded(page))
        return;
    m_undo.push(new Undoable(
        tr("remove the page “%1”").arg(page->name),
        [this, row_id] {
            if (m_notices.succeeded(m_store.pages.remove(row_id)) && row_id == m_row_id) {
                m_unsaved = false;
                become(0, ordered_json::object());
            } else
                emit listChanged();
        },
        [this, row_id, document = page->document] {
            if (m_notices.succeeded(m_store.pages.add(document, row_id)))
                become(row_id, document);
        }));
}

/// A step that is taken back when another page is open opens the one that it belongs to.
void PageBook::put(qint64 row_id, const ordered_json& page, bool shown_already)
{
    if (row_id != m_row_id) {
        if (!m_notices.succeeded(m_store.pages.replace(row_id, page)))
            return;
        return become(row_id, page);
    }
    m_page = page;
    m_unsaved = true;
    m_soon.start();
    if (!shown_already)
        emit pageChanged();
}

void PageBook::change(const QString& what, ordered_json page, int same)
{
    if (m_row_id == 0 || page == m_page)
        return;
    m_undo.push(new PageChange(what, m_row_id, m_page, std::move(page), same,
                               [this, row_id = m_row_id](const ordered_json& now, bool shown_already) {
                                   put(row_id, now, shown_already);
                               }));
}

void PageBook::setTitle(const QString& title)
{
    auto page = m_page;
    page["title"] = title.trimmed().isEmpty() ? tr("Untitled").toStdString() : title.trimmed().toStdString();
    change(tr("change the title"), std::move(page), 0);
    save();
    emit listChanged();
}

void PageBook::setText(std::size_t block, const QString& markdown)
{
    if (!hasBlock(m_page, block))
        return;
    auto page = m_page;
    page["blocks"][block]["markdown"] = markdown.toStdString();
    change(tr("write"), std::move(page), static_cast<int>(block) + 1);
}

void PageBook::insert(std::size_t at, const ordered_json& block)
{
    if (m_row_id == 0)
        return;
    auto page = m_page;
    auto& blocks = page["blocks"];
    blocks.insert(blocks.begin() + static_cast<std::ptrdiff_t>(std::min(at, blocks.size())), block);
    change(tr("insert"), std::move(page));
}

void PageBook::removeBlock(std::size_t block)
{
    if (!hasBlock(m_page, block))
        return;
    auto page = m_page;
    page["blocks"].erase(block);
    change(tr("remove from the page"), std::move(page));
}

void PageBook::move(std::size_t block, std::size_t to)
{
    if (!hasBlock(m_page, block) || !hasBlock(m_page, to))
        return;
    auto page = m_page;
    auto moved = page["blocks"][block];
    page["blocks"].erase(block);
    page["blocks"].insert(page["blocks"].begin() + static_cast<std::ptrdiff_t>(to), std::move(moved));
    change(tr("move on the page"), std::move(page));
}

void PageBook::freeze(std::size_t block, bool on)
{
    if (!hasBlock(m_page, block))
        return;
    auto page = m_page;
    if (on)
        page["blocks"][block]["frozen"] = part(block);
    else
        page["blocks"][block].erase("frozen");
    change(on ? tr("freeze") : tr("follow the readings"), std::move(page));
}

void PageBook::save()
{
    if (!m_unsaved || m_row_id == 0)
        return;
    m_unsaved = false;
    (void)m_notices.succeeded(m_store.pages.replace(m_row_id, m_page));
}

} // namespace hr::app
