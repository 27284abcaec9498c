// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo_data.h"
#include "exchange/collection_file.h"
#include "frame/main_window.h"
#include "frame/session.h"
#include "theme/theme.h"
#include "tour/tour.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QIcon>
#include <cstdio>

namespace {

using namespace hr;

int fail(const Error& error)
{
    std::fprintf(stderr, "honest-rack: %s\n", error.text.c_str());
    return static_cast<int>(error.blame);
}

struct Options {
    std::filesystem::path data;
    bool demo = false;
    QString tour;
};

Result<Options> parse(const QStringList& arguments)
{
    QCommandLineParser parser;
    const QCommandLineOption data(QStringLiteral("data"), QStringLiteral("data directory"),
                                  QStringLiteral("DIR"));
    const QCommandLineOption demo(QStringLiteral("demo"), QStringLiteral("with the demo data"));
    const QCommandLineOption tour(QStringLiteral("tour"),
                                  QStringLiteral("walk through the pages, save pictures in DIR, end"),
                                  QStringLiteral("DIR"));
    parser.addOptions({data, demo, tour});
    if (!parser.parse(arguments))
        return wrongRequest(parser.errorText().toStdString() + " There are --data DIR, --demo and --tour DIR.");
    Options options;
    options.data = parser.isSet(data) ? std::filesystem::path(parser.value(data).toStdString())
                                      : library::defaultDataDirectory();
    options.demo = parser.isSet(demo);
    options.tour = parser.value(tour);
    return options;
}

/// Sounds, and the collection the first time.
Result<void> addDemo(library::Store& store)
{
    const auto& directory = store.database().directory();
    if (auto written = demo::writeDemoData(directory); !written)
        return written;
    const QString mark = QStringLiteral("demo");
    if (!store.setting(mark).isEmpty())
        return {};
    if (auto imported = exchange::importCollection(store, directory / "collections" / "brass-bus.json");
        !imported)
        return tl::make_unexpected(imported.error());
    return store.setSetting(mark, QStringLiteral("1"));
}

} // namespace

int main(int argc, char** argv)
{
    QApplication application(argc, argv);
    QApplication::setApplicationName(QStringLiteral("Honest Rack"));
    QApplication::setDesktopFileName(QStringLiteral("honest-rack"));
    QApplication::setWindowIcon(QIcon::fromTheme(QStringLiteral("honest-rack")));
    const auto options = parse(QApplication::arguments());
    if (!options)
        return fail(options.error());
    auto store = library::Store::open(options->data);
    if (!store)
        return fail(store.error());
    if (options->demo)
        if (auto added = addDemo(**store); !added)
            return fail(added.error());

    app::Theme::apply(application, app::ThemeName::Paper);
    const auto stored = app::Session::stored(**store);
    const QString notice = (*store)->database().notice();
    app::Desk desk(std::move(*store), app::Session::device(stored));
    app::SourceList sources(options->data);
    app::MainWindow window(desk, sources);
    app::Session session(desk, window, sources);
    session.restore(stored);
    if (!notice.isEmpty())
        window.showNotice(notice);
    window.show();
    desk.scan.start(); // what has not changed costs nothing
    if (!options->tour.isEmpty()) {
        const auto toured = app::Tour(desk, window, options->tour).run();
        return toured ? 0 : fail(toured.error());
    }
    return QApplication::exec();
}
