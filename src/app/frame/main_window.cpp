// SPDX-License-Identifier: GPL-3.0-or-later
#include "frame/main_window.h"

#include "frame/go_anywhere.h"
#include "frame/jobs_button.h"
#include "frame/page_tabs.h"
#include "pages/build/build_page.h"
#include "pages/find/find_page.h"
#include "pages/keep/keep_page.h"
#include "pages/later/later_page.h"
#include "pages/listen/listen_page.h"
#include "pages/measure/measure_page.h"
#include "playbar/playbar.h"
#include "theme/theme.h"
#include "widgets/basics.h"

#include <QAction>
#include <QApplication>
#include <QCloseEvent>
#include <QLabel>
#include <QVBoxLayout>

namespace hr::app {

namespace {

constexpr int notice_ms = 12000;

} // namespace

MainWindow::MainWindow(Desk& desk, SourceList& sources, QWidget* parent) : QMainWindow(parent), m_desk(desk)
{
    setWindowTitle(tr("Honest Rack"));
    setMinimumSize(1100, 700);
    resize(1280, 800);
    auto* middle = new QWidget;
    auto* row = new QHBoxLayout(middle);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    m_tabs = new PageTabs;
    m_tabs->putBelow(new JobsButton(*m_desk.jobs));
    row->addWidget(m_tabs);
    auto* column = new QVBoxLayout;
    column->setSpacing(0);
    auto* pages = new QWidget;
    m_pages = new Stack(pages);
    m_find = new FindPage(m_desk);
    m_measure = new MeasurePage(m_desk);
    m_keep = new KeepPage(m_desk);
    m_pages->addWidget(m_find);
    m_pages->addWidget(new ListenPage(m_desk));
    m_pages->addWidget(m_measure);
    m_pages->addWidget(new BuildPage(m_desk));
    m_pages->addWidget(m_keep);
    m_pages->addWidget(makeWritePage());
    column->addWidget(pages, 1);

    m_notice = new QFrame;
    m_notice->setObjectName(QStringLiteral("notice"));
    auto* notice = new QHBoxLayout(m_notice);
    notice->setContentsMargins(14, 5, 6, 5);
    m_notice_text = paragraph();
    notice->addWidget(m_notice_text, 1);
    auto* dismiss = new Button(tr("Understood"));
    connect(dismiss, &QPushButton::clicked, m_notice, &QWidget::hide);
    notice->addWidget(dismiss);
    m_notice->hide();
    m_notice_timer.setSingleShot(true);
    connect(&m_notice_timer, &QTimer::timeout, m_notice, &QWidget::hide);
    column->addWidget(m_notice);
    m_playbar = new Playbar(m_desk, sources);
    column->addWidget(m_playbar);
    row->addLayout(column, 1);
    setCentralWidget(middle);

    connect(m_tabs, &PageTabs::chosen, this, &MainWindow::showPage);
    connect(m_tabs, &PageTabs::dropped, this, &MainWindow::takeDropped);
    connect(&m_desk, &Desk::goTo, this, &MainWindow::showPage);
    connect(&m_desk, &Desk::notice, this, &MainWindow::showNotice);
    addShortcuts();
    showPage(PageName::Find);
}

void MainWindow::showPage(PageName page)
{
    m_pages->setCurrentIndex(static_cast<int>(page));
    m_tabs->setCurrent(page);
    if (page == PageName::Find)
        m_find->focusSearch();
    else
        m_pages->currentWidget()->setFocus();
    emit pageShown(page);
}

void MainWindow::takeDropped(PageName page, const QStringList& ids)
{
    if (page == PageName::Measure)
        m_desk.measureInBackground(ids);
    if (page == PageName::Build)
        m_desk.build(ids);
    for (const QString& id : ids) {
        if (page == PageName::Listen)
            m_desk.listenTo(id);
        else if (page == PageName::Keep)
            m_desk.keep({0, QStringLiteral("processor"), id}, 0);
    }
}

PageName MainWindow::page() const
{
    return static_cast<PageName>(m_pages->currentIndex());
}

void MainWindow::showNotice(const QString& text)
{
    if (text.isEmpty())
        return m_notice->hide();
    m_notice_text->setText(text);
    m_notice->setAccessibleName(text);
    m_notice->show();
    m_notice_timer.start(notice_ms);
}

void MainWindow::toggleTheme()
{
    Theme::apply(*qApp, Theme::current() == ThemeName::Paper ? ThemeName::Lamplight : ThemeName::Paper);
    m_measure->setThemeColours();
}

void MainWindow::addShortcut(const QString& name, const QKeySequence& key, const std::function<void()>& work)
{
    auto* action = new QAction(name, this);
    action->setShortcut(key);
    connect(action, &QAction::triggered, this, work);
    addAction(action);
}

void MainWindow::addShortcuts()
{
    addShortcut(tr("play or pause"), Qt::Key_Space, [this] { m_playbar->togglePlay(); });
    addShortcut(tr("hear the reference"), Qt::Key_0, [this] { m_desk.line_up.hear(0); });
    for (int lane = 1; lane <= LineUp::most_candidates; ++lane)
        addShortcut(tr("hear candidate %1").arg(QChar(u'A' + lane - 1)), QKeySequence(Qt::Key_0 + lane),
                    [this, lane] { m_desk.line_up.hear(lane); });
    const QString names[] = {tr("Find"), tr("Listen"), tr("Measure"), tr("Build"), tr("Keep"), tr("Write")};
    for (int i = 0; i < 6; ++i)
        addShortcut(tr("page %1").arg(names[i]), QKeySequence(Qt::CTRL | static_cast<Qt::Key>(Qt::Key_1 + i)),
                    [this, i] { showPage(static_cast<PageName>(i)); });
    addShortcut(tr("measure what is selected"), Qt::CTRL | Qt::Key_M,
                [this] { m_desk.measureInBackground(m_find->selectedIds()); });
    addShortcut(tr("build with what is selected"), Qt::CTRL | Qt::Key_B,
                [this] { m_desk.build(m_find->selectedIds()); });
    addShortcut(tr("keep what is selected"), Qt::CTRL | Qt::Key_D, [this] { m_find->keepSelected(); });
    addShortcut(tr("favourites"), Qt::ALT | Qt::Key_F, [this] { m_find->toggleFavourites(); });
    addShortcut(tr("recently used"), Qt::ALT | Qt::Key_R, [this] { m_find->toggleRecent(); });
    addShortcut(tr("search"), QKeySequence::Find, [this] { showPage(PageName::Find); });
    addShortcut(tr("go to anything by name"), Qt::CTRL | Qt::Key_K, [this] { GoAnywhere::open(m_desk, this); });
    addShortcut(tr("open a source file"), QKeySequence::Open, [this] { m_playbar->openFile(); });
    addShortcut(tr("undo"), QKeySequence::Undo, [this] { m_desk.undo.undo(); });
    addShortcut(tr("redo"), QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_Z), [this] { m_desk.undo.redo(); });
    addShortcut(tr("paper or lamplight"), Qt::CTRL | Qt::Key_L, [this] { toggleTheme(); });
    addShortcut(tr("close"), QKeySequence::Quit, [this] { close(); });
    addShortcut(tr("this list"), Qt::Key_F1, [this] { listShortcuts(); });
}

void MainWindow::listShortcuts()
{
    // Made from the actions themselves, so that it cannot say anything else than what they do.
    auto* window = new QWidget(this, Qt::Popup);
    window->setAttribute(Qt::WA_DeleteOnClose);
    auto* column = new QVBoxLayout(window);
    auto* sheet = new Sheet;
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(sheet);
    auto* grid = new QGridLayout(sheet);
    grid->setContentsMargins(20, 16, 20, 16);
    grid->setHorizontalSpacing(18);
    grid->addWidget(label(tr("Keys"), "heading"), 0, 0, 1, 4);
    const auto all = actions();
    const int half = static_cast<int>(all.size() + 1) / 2;
    for (int i = 0; i < all.size(); ++i) {
        grid->addWidget(label(all[i]->shortcut().toString(QKeySequence::NativeText), "figure"), 1 + i % half,
                        i / half * 2);
        grid->addWidget(label(all[i]->text()), 1 + i % half, i / half * 2 + 1);
    }
    window->adjustSize();
    window->move(mapToGlobal(rect().center() - window->rect().center()));
    window->show();
}

void MainWindow::closeEvent(QCloseEvent* event)
{
    emit closing();
    QMainWindow::closeEvent(event);
}

} // namespace hr::app
