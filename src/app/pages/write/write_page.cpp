// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/write/write_page.h"

#include "bench/plots.h"
#include "exchange/report/write_report.h"
#include "models/line_up_document.h"
#include "pages/write/page_block.h"
#include "print/pdf.h"
#include "theme/theme.h"
#include "widgets/ask_file.h"
#include "widgets/basics.h"

#include <QDateTime>
#include <QEvent>
#include <QFile>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QScrollArea>
#include <QVBoxLayout>
#include <set>

namespace hr::app {

namespace {

using nlohmann::ordered_json;

constexpr int journal_lines = 60;

} // namespace

WritePage::WritePage(const Services& services, QWidget* parent) : QWidget(parent), m_services(services)
{
    setObjectName(QStringLiteral("page"));
    setFocusPolicy(Qt::StrongFocus);
    addActions();
    auto* page = new QVBoxLayout(this);
    page->setContentsMargins(20, 16, 20, 8);
    page->setSpacing(10);
    auto* top = new QHBoxLayout;
    top->addWidget(label(tr("Notebook"), "title"));
    top->addStretch();
    const auto button = [&](const QString& text, const char* action) {
        auto* one = new Button(text);
        one->setToolTip(m_services.actions.tip(QLatin1String(action)));
        connect(one, &QPushButton::clicked, this,
                [this, action] { m_services.actions.run(QLatin1String(action)); });
        top->addWidget(one);
        return one;
    };
    button(tr("Empty page"), "page.empty");
    button(tr("Page about the line-up"), "page.about");
    button(tr("Export"), "page.export")->main();
    page->addLayout(top);
    auto* row = new QHBoxLayout;
    row->setSpacing(16);
    row->addWidget(makeList());
    row->addWidget(makeMiddle(), 1);
    row->addWidget(makeSide());
    page->addLayout(row, 1);
    PageBook* book = &m_services.book;
    connect(book, &PageBook::listChanged, this, &WritePage::fillList);
    connect(book, &PageBook::pageChanged, this, &WritePage::fillPage);
    connect(book, &PageBook::readingsChanged, this, &WritePage::fillParts);
    connect(&m_services.journal, &JournalKeeper::noted, this, &WritePage::fillJournal);
    fillList();
    fillPage();
    fillJournal();
}

/// Plots are drawn in the colours of the theme.
void WritePage::changeEvent(QEvent* event)
{
    QWidget::changeEvent(event);
    if (event->type() == QEvent::PaletteChange)
        fillParts();
}

void WritePage::addActions()
{
    const QString group = tr("Write");
    m_services.actions.add({QStringLiteral("page.about"), tr("begin a page about the line-up"), group,
                            Qt::Key_W, [this] { beginFromLineUp(); },
                            [this] {
                                return m_services.line_up.candidates().empty()
                                           ? tr("The line-up is empty: choose what to write about on Find.")
                                           : QString();
                            }});
    m_services.actions.add({QStringLiteral("page.empty"), tr("begin an empty page"), group, {}, [this] {
                                m_services.book.begin(exchange::newPage(tr("Untitled").toStdString(), {}));
                                m_services.navigation.goTo(PageName::Write);
                            }});
    const auto no_page = [this] {
        return m_services.book.current() == 0 ? tr("No page is open: begin one, or choose one on Write.")
                                              : QString();
    };
    m_services.actions.add(
        {QStringLiteral("page.export"), tr("export the page"), group, {}, [this] { exportPage(); }, no_page});
    m_services.actions.add({QStringLiteral("page.line-up"),
                            tr("open the line-up that the page is about"),
                            group,
                            {},
                            [this] {
                                m_services.saved.openDocument(m_services.book.page()["line_up"],
                                                              tr("of this page"));
                                m_services.navigation.goTo(PageName::Listen);
                            },
                            [this] {
                                return m_services.book.page().contains("line_up")
                                           ? QString()
                                           : tr("The page that is open was not begun from a line-up.");
                            }});
    m_services.actions.add({QStringLiteral("page.remove"),
                            tr("remove the page"),
                            group,
                            {},
                            [this] { m_services.book.remove(m_services.book.current()); },
                            no_page});
}

void WritePage::beginFromLineUp()
{
    const QString heard_on = m_services.transport.source()
                                 ? m_services.sources.of(m_services.transport.sourceFile()).name
                                 : QString();
    m_services.book.beginAbout(m_services.line_up, m_services.bench,
                               {heard_on, toDocument(m_services.line_up, m_services.transport)});
    for (const Contender& contender : m_services.line_up.candidates())
        if (contender.isMeasurable())
            m_services.bench.measure(contender); // what is missing comes while one writes
    m_services.navigation.goTo(PageName::Write);
}

QWidget* WritePage::makeList()
{
    auto* side = new QWidget;
    side->setFixedWidth(176);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    m_search = new QLineEdit;
    m_search->setPlaceholderText(tr("search pages and journal"));
    m_search->setAccessibleName(tr("search pages and journal"));
    m_search->setClearButtonEnabled(true);
    column->addWidget(m_search);
    m_list = new QListWidget;
    m_list->setAccessibleName(tr("pages"));
    column->addWidget(m_list, 1);
    connect(m_search, &QLineEdit::textChanged, this, &WritePage::fillList);
    connect(m_search, &QLineEdit::textChanged, this, &WritePage::fillJournal);
    connect(m_list, &QListWidget::itemActivated, this, [this](const QListWidgetItem* item) {
        m_services.book.open(item->data(Qt::UserRole).toLongLong());
    });
    connect(m_list, &QListWidget::itemClicked, this, [this](const QListWidgetItem* item) {
        m_services.book.open(item->data(Qt::UserRole).toLongLong());
    });
    return side;
}

QWidget* WritePage::makeMiddle()
{
    auto* holder = new QWidget;
    m_middle = new Stack(holder);
    m_empty = new EmptyState({}, {}, tr("Begin a page about the line-up"));
    connect(m_empty, &EmptyState::stepTaken, this,
            [this] { m_services.actions.run(QStringLiteral("page.about")); });
    auto* empty_sheet = new Sheet;
    auto* within = new QVBoxLayout(empty_sheet);
    within->addWidget(m_empty);
    m_middle->addWidget(empty_sheet);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFocusPolicy(Qt::NoFocus);
    auto* sheet = new Sheet;
    auto* column = new QVBoxLayout(sheet);
    column->setContentsMargins(24, 18, 24, 18);
    column->setSpacing(10);
    m_title = new QLineEdit;
    m_title->setObjectName(QStringLiteral("page-title"));
    m_title->setAccessibleName(tr("title of the page"));
    column->addWidget(m_title);
    auto* about = new QHBoxLayout;
    m_about = paragraph({}, "faint");
    about->addWidget(m_about, 1);
    m_its_line_up = new Button(tr("Its line-up"));
    m_its_line_up->setToolTip(m_services.actions.tip(QStringLiteral("page.line-up")));
    connect(m_its_line_up, &QPushButton::clicked, this,
            [this] { m_services.actions.run(QStringLiteral("page.line-up")); });
    about->addWidget(m_its_line_up, 0, Qt::AlignTop);
    column->addLayout(about);
    m_column = new QVBoxLayout;
    m_column->setSpacing(10);
    column->addLayout(m_column);
    column->addStretch();
    scroll->setWidget(sheet);
    m_middle->addWidget(scroll);
    connect(m_title, &QLineEdit::editingFinished, this, [this] {
        if (m_services.book.current() != 0)
            m_services.book.setTitle(m_title->text());
    });
    return holder;
}

QWidget* WritePage::makeSide()
{
    auto* side = new QWidget;
    side->setFixedWidth(208);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(12);
    auto* insert = new Sheet;
    auto* inside = new QVBoxLayout(insert);
    inside->setContentsMargins(14, 10, 14, 12);
    inside->addWidget(label(tr("Put on the page"), "strong"));
    auto* grid = new QGridLayout;
    grid->setSpacing(6);
    const auto button = [&](int row, int at, const QString& text, void (WritePage::*does)()) {
        auto* one = new Button(text);
        connect(one, &QPushButton::clicked, this, does);
        grid->addWidget(one, row, at);
    };
    button(0, 0, tr("Table"), &WritePage::insertTable);
    button(0, 1, tr("Plot"), &WritePage::insertPlot);
    button(1, 0, tr("Trial"), &WritePage::insertTrial);
    auto* words = new Button(tr("Words"));
    connect(words, &QPushButton::clicked, this, [this] { this->insert(exchange::textBlock({})); });
    grid->addWidget(words, 1, 1);
    button(2, 0, tr("Journal"), &WritePage::insertJournal);
    inside->addLayout(grid);
    m_insert = insert;
    column->addWidget(insert);
    auto* journal = new Sheet;
    auto* lines = new QVBoxLayout(journal);
    lines->setContentsMargins(14, 10, 14, 12);
    lines->addWidget(label(tr("Journal"), "strong"));
    m_journal = paragraph();
    m_journal->setTextFormat(Qt::PlainText);
    m_journal->setTextInteractionFlags(Qt::TextSelectableByMouse);
    lines->addWidget(m_journal);
    lines->addStretch();
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setWidget(journal);
    column->addWidget(scroll, 1);
    return side;
}

void WritePage::fillList()
{
    m_list->clear();
    for (const library::NotebookPage& page : m_services.book.all(m_search->text())) {
        auto* item = new QListWidgetItem(page.name, m_list);
        item->setData(Qt::UserRole, page.row_id);
        item->setToolTip(tr("changed %1").arg(page.changed.left(10)));
        if (page.row_id == m_services.book.current())
            m_list->setCurrentItem(item);
    }
}

bool WritePage::isFrozen(std::size_t block) const
{
    return m_services.book.page()["blocks"][block].contains("frozen");
}

PageBlock* WritePage::makeBlock(std::size_t block)
{
    PageBook* book = &m_services.book;
    auto* made = new PageBlock(book->part(block), isFrozen(block));
    connect(made, &PageBlock::written, book,
            [book, block](const QString& markdown) { book->setText(block, markdown); });
    connect(made, &PageBlock::chosen, this, [this, block] { m_insert_at = block + 1; });
    connect(
        made, &PageBlock::freezeRequested, book, [book, block](bool on) { book->freeze(block, on); },
        Qt::QueuedConnection);
    connect(
        made, &PageBlock::removeRequested, book, [book, block] { book->removeBlock(block); },
        Qt::QueuedConnection);
    connect(
        made, &PageBlock::moveRequested, this,
        [this, book, block](int by) {
            if ((by < 0 && block == 0) || (by > 0 && block + 1 >= book->blocks()))
                return;
            const std::size_t to = by > 0 ? block + 1 : block - 1;
            book->move(block, to);
            m_blocks[to]->writeHere();
        },
        Qt::QueuedConnection);
    return made;
}

void WritePage::fillPage()
{
    for (PageBlock* block : m_blocks) {
        block->hide();
        block->deleteLater();
    }
    m_blocks.clear();
    PageBook& book = m_services.book;
    const bool any = book.current() != 0;
    m_middle->setCurrentIndex(any ? 1 : 0);
    const bool written = m_list->count() > 0;
    m_empty->setTexts(
        written ? tr("No page is open") : tr("Nothing is written yet"),
        tr("A page says what was found: your words, and tables, plots and blind trials that follow the "
           "readings. W begins one about the line-up, with its figures, plots, trials and settings there "
           "already.") +
            (written ? tr(" On the left are those that there are.") : QString()));
    m_insert->setEnabled(any);
    if (!any)
        return;
    m_title->setText(QString::fromStdString(book.page().value("title", std::string())));
    QStringList about;
    for (const auto& subject : book.page().value("subjects", ordered_json::array()))
        about << QString::fromStdString(subject.value("letter", std::string()) + ' ' +
                                        subject.value("title", std::string()));
    m_about->setText(about.isEmpty() ? QString() : tr("about %1").arg(about.join(QStringLiteral(", "))));
    m_about->setVisible(!about.isEmpty());
    m_its_line_up->setVisible(book.page().contains("line_up"));
    for (std::size_t block = 0; block < book.blocks(); ++block) {
        m_blocks.push_back(makeBlock(block));
        m_column->addWidget(m_blocks.back());
    }
    m_insert_at = std::min(m_insert_at, book.blocks());
}

void WritePage::fillParts()
{
    for (std::size_t block = 0; block < m_blocks.size(); ++block)
        if (!m_blocks[block]->isText())
            m_blocks[block]->show(m_services.book.part(block), isFrozen(block));
}

void WritePage::fillJournal()
{
    QStringList lines;
    QString day;
    for (const library::JournalLine& line : m_services.journal.newest(journal_lines, m_search->text())) {
        const QDateTime at = QDateTime::fromString(line.at, Qt::ISODate).toLocalTime();
        if (const QString of = at.date().toString(Qt::ISODate); of != day) {
            day = of;
            lines << day;
        }
        lines << tr("%1  %2").arg(at.time().toString(QStringLiteral("HH:mm")), line.text);
    }
    m_journal->setText(lines.isEmpty() && !m_search->text().isEmpty() ? tr("No line of it holds these words.")
                       : lines.isEmpty() ? tr("What you hear, measure, try and turn is noted here by itself.")
                                         : lines.join(QLatin1Char('\n')));
}

void WritePage::insert(const ordered_json& block)
{
    const std::size_t at = m_insert_at;
    m_services.book.insert(at, block);
    if (at < m_blocks.size())
        m_blocks[at]->writeHere();
    m_insert_at = at + 1;
}

void WritePage::insertTable()
{
    QMenu* menu = menuFor(this);
    menu->addAction(tr("Telling figures"), this, [this] { insert(exchange::overviewBlock()); });
    menu->addAction(tr("How they are set"), this, [this] { insert(exchange::settingsBlock()); });
    menu->addSeparator();
    for (const bench::TestInfo& test : bench::allTests())
        menu->addAction(QString::fromStdString(test.name), this,
                        [this, key = test.key] { insert(exchange::figuresBlock(key)); });
    menu->popup(QCursor::pos());
}

void WritePage::insertPlot()
{
    QMenu* menu = menuFor(this);
    for (const bench::PlotInfo& plot : bench::allPlots())
        menu->addAction(QString::fromStdString(plot.title), this,
                        [this, plot] { insert(exchange::plotBlock(plot.test, plot.series)); });
    menu->popup(QCursor::pos());
}

void WritePage::insertTrial()
{
    constexpr std::size_t most = 12;
    const auto trials = m_services.store.trials.all();
    if (!m_services.notices.succeeded(trials))
        return;
    QMenu* menu = menuFor(this);
    for (std::size_t i = 0; i < std::min(most, trials->size()); ++i) {
        const ordered_json& trial = (*trials)[i].document;
        const auto part =
            exchange::resolveBlock(m_services.store, ordered_json::object(), exchange::trialBlock(trial));
        menu->addAction(QString::fromStdString(part.value("heading", std::string()) + ", " +
                                               trial.value("started", std::string()).substr(0, 10)),
                        this, [this, trial] { insert(exchange::trialBlock(trial)); });
    }
    if (trials->empty())
        menu->addAction(tr("No blind trial has been held yet"))->setEnabled(false);
    menu->popup(QCursor::pos());
}

/// Its last day, as far as the search lets it through, in the order in which it happened.
void WritePage::insertJournal()
{
    const auto lines = m_services.journal.newest(journal_lines, m_search->text());
    if (lines.empty())
        return m_services.notices.say(tr("Nothing stands in the journal yet."));
    const auto dayOf = [](const library::JournalLine& line) {
        return QDateTime::fromString(line.at, Qt::ISODate).toLocalTime().date();
    };
    QString text;
    for (const library::JournalLine& line : lines)
        if (dayOf(line) == dayOf(lines.front()))
            text.prepend(QStringLiteral("- %1 %2\n")
                             .arg(QDateTime::fromString(line.at, Qt::ISODate)
                                      .toLocalTime()
                                      .toString(QStringLiteral("HH:mm")),
                                  QString::fromStdString(exchange::asMarkdown(line.text.toStdString()))));
    text.prepend(tr("**Journal of %1**").arg(dayOf(lines.front()).toString(Qt::ISODate)) +
                 QStringLiteral("\n\n"));
    insert(exchange::textBlock(text.toStdString()));
}

void WritePage::exportPage()
{
    m_services.book.save();
    askToSave(this, tr("Export the page"), QStringLiteral("page.html"),
              tr("One HTML file (*.html);;PDF (*.pdf);;Markdown with its pictures (*.md);;Figures as a table "
                 "(*.csv);;"
                 "All of it (*.json)"),
              [this](const QString& file) { exportTo(file); });
}

void WritePage::exportTo(const QString& file)
{
    const std::filesystem::path path = QFile::encodeName(file).toStdString();
    const auto report = m_services.book.report();
    const std::string ending = path.extension().string();
    const auto format = ending == ".md"     ? exchange::ReportFormat::Markdown
                        : ending == ".csv"  ? exchange::ReportFormat::Csv
                        : ending == ".json" ? exchange::ReportFormat::Json
                                            : exchange::ReportFormat::Html;
    m_services.notices.say(savedOrWhy(
        ending == ".pdf" ? print::writePdf(report, path) : exchange::writeReport(report, format, path), file));
}

} // namespace hr::app
