// SPDX-License-Identifier: GPL-3.0-or-later
#include "frame/main_window.h"

#include "frame/about.h"
#include "frame/go_anywhere.h"
#include "frame/jobs_button.h"
#include "frame/key_list.h"
#include "frame/page_tabs.h"
#include "frame/short_listen.h"
#include "pages/build/build_page.h"
#include "pages/find/find_page.h"
#include "pages/keep/keep_page.h"
#include "pages/listen/listen_page.h"
#include "pages/measure/measure_page.h"
#include "pages/write/write_page.h"
#include "playbar/playbar.h"
#include "theme/theme.h"
#include "widgets/basics.h"
#include "widgets/candidate_mark.h"

#include <QAction>
#include <QApplication>
#include <QCloseEvent>
#include <QLabel>
#include <QScreen>
#include <QVBoxLayout>

namespace hr::app {

namespace {

constexpr int notice_ms = 12000;
constexpr QSize usual_size(1280, 800);

} // namespace

MainWindow::MainWindow(Desk& desk, QWidget* parent) : QMainWindow(parent), m_desk(desk)
{
    new ShortListen(m_desk.line_up, m_desk.trials, this);
    setWindowTitle(tr("Honest Rack"));
    setMinimumSize(1100, 700);
    resize(usual_size);
    auto* middle = new QWidget;
    auto* row = new QHBoxLayout(middle);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    m_tabs = new PageTabs;
    m_tabs->putBelow(new JobsButton(m_desk.jobs));
    row->addWidget(m_tabs);
    auto* column = new QVBoxLayout;
    column->setSpacing(0);
    connect(&m_desk.actions, &ActionList::added, this, &MainWindow::addKey);
    addActions();
    auto* playbar = new Playbar({m_desk.transport, m_desk.output, m_desk.line_up, m_desk.trials, m_desk.sources,
                                 m_desk.source_notes, m_desk.tempo, m_desk.outside, m_desk.live_play,
                                 m_desk.actions, m_desk.jobs, m_desk.notices});
    auto* pages = new QWidget;
    m_pages = new Stack(pages);
    makePages();
    column->addWidget(pages, 1);
    column->addWidget(makeNotice());
    column->addWidget(playbar);
    row->addLayout(column, 1);
    setCentralWidget(middle);

    connect(m_measure, &MeasurePage::told, &m_desk.notices, &Notices::say);
    connect(m_tabs, &PageTabs::chosen, this, &MainWindow::showPage);
    connect(m_tabs, &PageTabs::dropped, this, &MainWindow::takeDropped);
    connect(&m_desk.navigation, &Navigation::wanted, this, &MainWindow::showPage);
    connect(&m_desk.notices, &Notices::told, this, &MainWindow::showNotice);
    showPage(PageName::Find);
}

/// In the order of PageName, each with what it works with.
void MainWindow::makePages()
{
    Desk& d = m_desk;
    m_find = new FindPage({*d.store, d.processors, d.notebook, d.keeping, d.routes, d.book, d.navigation,
                           d.bench, d.line_up, d.transport, d.sources, d.scan, d.fault_search, d.similar,
                           d.prints, d.actions, d.undo, d.notices, d.jobs});
    m_measure = new MeasurePage({*d.store, d.line_up, d.bench, d.conditions, d.sweep, d.fit, d.comparing,
                                 d.live, d.jobs, d.navigation});
    m_keep = new KeepPage({*d.store, d.processors, d.keeping, d.routes, d.notices});
    m_pages->addWidget(m_find);
    m_pages->addWidget(
        new ListenPage({d.line_up, d.edits, d.transport, d.settings, d.saved, d.trials, d.alternation, d.live,
                        d.tempo, d.keeping, d.routes, d.navigation, d.actions, d.undo, d.notices}));
    m_pages->addWidget(m_measure);
    m_pages->addWidget(new BuildPage(
        {*d.store,    d.actions, d.processors, d.draft,    d.purposes, d.facts,      d.pictures, d.hearing,
         d.edits,     d.parts,   d.parts_play, d.versions, d.chance,   d.study,      d.delivery, d.prints,
         d.transport, d.tempo,   d.keeping,    d.book,     d.routes,   d.navigation, d.notices}));
    m_pages->addWidget(m_keep);
    m_pages->addWidget(new WritePage({*d.store, d.book, d.journal, d.line_up, d.bench, d.transport, d.sources,
                                      d.saved, d.navigation, d.actions, d.notices}));
}

QWidget* MainWindow::makeNotice()
{
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
    return m_notice;
}

void MainWindow::fitToScreen()
{
    constexpr int title_bar_px = 40;
    const QRect free = screen()->availableGeometry();
    resize(std::min(usual_size.width(), free.width()),
           std::min(usual_size.height(), free.height() - title_bar_px));
    move(free.center() - QPoint(width() / 2, height() / 2 - title_bar_px / 2));
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
        m_desk.bench.measureInBackground(ids);
    if (page == PageName::Build)
        m_desk.routes.build(ids);
    if (page == PageName::Listen)
        m_desk.routes.listenTo(ids);
    if (page == PageName::Keep)
        for (const QString& id : ids)
            m_desk.keeping.keep({0, QStringLiteral("processor"), id});
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

/// Wherever the focus is, or in its place.
void MainWindow::addKey(const QString& action)
{
    const Action& declared = *m_desk.actions.find(action);
    if (declared.key.isEmpty())
        return;
    QWidget* place = declared.place ? declared.place : this;
    QAction* view = m_desk.actions.view(action, place);
    view->setShortcutContext(declared.place ? Qt::WidgetWithChildrenShortcut : Qt::WindowShortcut);
    place->addAction(view);
}

void MainWindow::hear(int mark)
{
    const BlindTrial* current = m_desk.trials.current();
    if (current && current->isRunning())
        hearInTrial(mark);
    else
        m_desk.line_up.hear(mark == 0 ? m_desk.line_up.reference() : m_desk.line_up.byMark(mark)->id);
}

/// The keys are those of what is tried: of the two by their letters, of hidden ones by their labels.
void MainWindow::hearInTrial(int mark)
{
    BlindTrial* current = m_desk.trials.current();
    const AbxTrial& abx = m_desk.trials.abx;
    if (current == &abx)
        m_desk.trials.abx.hear(abx.first().mark == mark ? AbxTrial::Which::First : AbxTrial::Which::Second);
    else if (auto* hidden = qobject_cast<HiddenTrial*>(current))
        hidden->hear(mark == 0 ? std::optional<HiddenTrial::Label>()
                               : std::optional(static_cast<HiddenTrial::Label>(mark - 1)));
}

QString MainWindow::whyNotHear(int mark) const
{
    BlindTrials& trials = m_desk.trials;
    const AbxTrial& abx = trials.abx;
    if (abx.isRunning() && mark != abx.first().mark && mark != abx.second().mark)
        return tr("A blind trial is under way, and this is not one of the two.");
    if (trials.isRunning())
        return {};
    return m_desk.line_up.byMark(mark)
               ? QString()
               : tr("There is no candidate %1: add one from Find.").arg(markLetter(mark));
}

/// What is possible on every page. Pages and the strip add their own.
void MainWindow::addActions()
{
    ActionList& actions = m_desk.actions;
    const QString hearing = tr("Hearing");
    for (int mark = 0; mark <= LineUp::most_candidates; ++mark)
        actions.add({QStringLiteral("hear.%1").arg(mark),
                     mark == 0 ? tr("hear the reference") : tr("hear candidate %1").arg(markLetter(mark)),
                     hearing, QKeySequence(Qt::Key_0 + mark), [this, mark] { hear(mark); },
                     [this, mark] { return whyNotHear(mark); }});
    const QString pages = tr("Pages");
    for (const PageName page : all_pages)
        actions.add({QStringLiteral("page.%1").arg(static_cast<int>(page)), tr("go to %1").arg(word(page)),
                     pages, QKeySequence(Qt::CTRL | static_cast<Qt::Key>(Qt::Key_1 + static_cast<int>(page))),
                     [this, page] { showPage(page); }});
    actions.add({QStringLiteral("search"), tr("search"), pages, QKeySequence::Find,
                 [this] { showPage(PageName::Find); }});
    actions.add(
        {QStringLiteral("anything"), tr("do or find anything by name"), pages, Qt::CTRL | Qt::Key_K, [this] {
             GoAnywhere::open({m_desk.actions, m_desk.processors, m_desk.routes}, this);
         }});
    const QString general = tr("Everywhere");
    const QUndoStack* undo = &m_desk.undo;
    actions.add({QStringLiteral("undo"), tr("undo the last step"), general, QKeySequence::Undo,
                 [this] { m_desk.undo.undo(); },
                 [this, undo] {
                     return m_desk.trials.isRunning() ? m_desk.trials.disturbed()
                            : undo->canUndo()         ? QString()
                                                      : tr("There is nothing to undo.");
                 }});
    actions.add({QStringLiteral("redo"), tr("redo the step that was undone"), general,
                 QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_Z), [this] { m_desk.undo.redo(); },
                 [this, undo] {
                     return m_desk.trials.isRunning() ? m_desk.trials.disturbed()
                            : undo->canRedo()         ? QString()
                                                      : tr("There is nothing to redo.");
                 }});
    actions.add({QStringLiteral("theme"),
                 tr("paper or lamplight"),
                 general,
                 Qt::CTRL | Qt::Key_L,
                 [this] { toggleTheme(); },
                 {},
                 [] { return Theme::current() == ThemeName::Lamplight; }});
    actions.add({QStringLiteral("keys"), tr("list the keys"), general, Qt::Key_F1,
                 [this] { openKeyList(m_desk.actions, this); }});
    actions.add({QStringLiteral("about"), tr("about Honest Rack"), general, {}, [this] { openAbout(this); }});
    actions.add({QStringLiteral("close"), tr("close"), general, QKeySequence::Quit, [this] { close(); }});
}

void MainWindow::closeEvent(QCloseEvent* event)
{
    m_desk.trials.stop(); // so that it is on record
    emit closing();
    QMainWindow::closeEvent(event);
}

} // namespace hr::app
