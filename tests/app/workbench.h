// SPDX-License-Identifier: GPL-3.0-or-later
//
// The whole application on a data directory of its own, on the silent device, with the demo's sources.
#pragma once

#include "demo_data.h"
#include "frame/main_window.h"
#include "frame/session.h"
#include "library/scan.h"
#include "support/fixtures.h"

#include <QLabel>
#include <QMenu>
#include <QPushButton>

namespace hr::test {

class Workbench {
public:
    enum class Data { Prepared, AsItIs };
    /// `data` must exist; started on the same one again it is a restart.
    explicit Workbench(const QString& data, Data what = Data::Prepared)
    {
        const std::filesystem::path directory = data.toStdString();
        if (what == Data::Prepared)
            std::filesystem::copy(preparedData(), directory,
                                  std::filesystem::copy_options::recursive |
                                      std::filesystem::copy_options::skip_existing);
        auto store = library::Store::open(directory);
        auto stored = app::Session::stored(**store);
        if (stored.empty() && store)
            stored["device_system"] = "silent"; // the first time; then it is the one that was chosen
        desk = std::make_unique<app::Desk>(std::move(*store));
        window = std::make_unique<app::MainWindow>(*desk);
        session = std::make_unique<app::Session>(*desk, *window);
        session->restore(stored);
        window->show();
        desk->scan.start();
    }

    /// Demo sounds and the specimens' catalogue, made once for all tests of the run: the one that hangs takes
    /// seconds to be given up.
    static std::filesystem::path preparedData()
    {
        static const QTemporaryDir prepared;
        static const std::filesystem::path path = [] {
            const std::filesystem::path made = prepared.path().toStdString();
            (void)demo::writeDemoData(made);
            auto store = library::Store::open(made);
            library::ScanOptions options;
            options.folders = hosting::searchFolders();
            (void)library::scan((*store)->catalogue, options);
            return made;
        }();
        return path;
    }

    bool ready() const
    {
        return QTest::qWaitFor(
                   [this] { return !desk->scan.isRunning() && desk->transport.source() != nullptr; }, 30000) &&
               QTest::qWaitForWindowExposed(window.get()) && activated();
    }

    bool activated() const
    {
        window->activateWindow(); // shortcuts are for the active window
        return QTest::qWaitForWindowActive(window.get());
    }

    /// Who stands at this place of the line-up: 0 the reference.
    const app::Contender& at(int place) const
    {
        return desk->line_up.contenders().at(static_cast<std::size_t>(place));
    }
    app::ContenderId idAt(int place) const { return at(place).id; }
    /// Without the reference.
    int candidates() const { return static_cast<int>(desk->line_up.candidates().size()); }
    /// The place of the one that was asked for.
    int wanted() const { return desk->line_up.placeOf(desk->line_up.wanted()); }

    template<class T>
    T* find(const QString& accessible_name) const
    {
        for (T* one : window->findChildren<T*>())
            if (one->accessibleName() == accessible_name && one->isVisible())
                return one;
        return nullptr;
    }
    QPushButton* button(const QString& text) const
    {
        for (auto* one : window->findChildren<QPushButton*>())
            if (one->text() == text && one->isVisible())
                return one;
        return nullptr;
    }
    void press(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier) const
    {
        (void)activated();
        QWidget* focused = window->focusWidget();
        QTest::keyClick(focused ? focused : window.get(), key, modifiers);
    }

    /// Of an open menu, or of one below it; null: it is not there.
    QAction* entryOf(const QString& entry) const
    {
        for (auto* menu : window->findChildren<QMenu*>()) {
            if (!menu->isVisible())
                continue;
            QList<QAction*> actions = menu->actions();
            for (const auto* below : menu->findChildren<QMenu*>())
                actions += below->actions();
            for (QAction* action : actions)
                if (action->text().startsWith(entry)) {
                    menu->close(); // as it does by itself, before anything else opens
                    return action;
                }
        }
        return nullptr;
    }
    void choose(const QString& entry) const
    {
        QAction* action = entryOf(entry);
        QVERIFY2(action, qPrintable(entry));
        action->trigger();
    }

    /// Where there is room for all of it, or to whoever reads with their ears.
    bool says(const QString& words) const
    {
        return QTest::qWaitFor(
            [&] {
                return std::ranges::any_of(window->findChildren<QLabel*>(), [&](const QLabel* one) {
                    return one->isVisible() &&
                           (one->text().contains(words) || one->accessibleName().contains(words));
                });
            },
            10000);
    }
    bool plays(const QString& file) const
    {
        return QTest::qWaitFor([&] { return desk->transport.sourceFile() == file; }, 10000);
    }
    /// Everybody, and what plays is what was asked for.
    bool matched() const
    {
        return QTest::qWaitFor(
            [this] {
                return !desk->line_up.isMatching() && desk->transport.isSettled() &&
                       std::ranges::all_of(desk->line_up.contenders(), [](const app::Contender& one) {
                           return one.match == app::MatchState::Matched;
                       });
            },
            20000);
    }

    std::unique_ptr<app::Desk> desk;
    std::unique_ptr<app::MainWindow> window;
    std::unique_ptr<app::Session> session;
};

} // namespace hr::test
