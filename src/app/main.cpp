// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo_data.h"
#include "exchange/collection_file.h"
#include "frame/first_start.h"
#include "frame/session.h"
#include "pages/find/find_page.h"
#include "signal/large_blocks.h"
#include "theme/theme.h"
#include "tour/tour.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QFile>
#include <QIcon>
#include <clocale>
#include <csignal>
#include <cstdio>
#include <cstdlib>

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
    QStringList only;
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
    const QCommandLineOption only(QStringLiteral("only"), QStringLiteral("of the tour, these pictures"),
                                  QStringLiteral("NAME,NAME"));
    parser.addOptions({data, demo, tour, only});
    if (!parser.parse(arguments))
        return wrongRequest(parser.errorText().toStdString() +
                            " There are --data DIR, --demo, --tour DIR and --only NAME,NAME.");
    Options options;
    options.data = parser.isSet(data)
                       ? std::filesystem::path(QFile::encodeName(parser.value(data)).toStdString())
                       : library::defaultDataDirectory();
    options.demo = parser.isSet(demo);
    options.tour = parser.value(tour);
    options.only = parser.value(only).split(QLatin1Char(','), Qt::SkipEmptyParts);
    return options;
}

constexpr auto demo_mark = "demo";

/// The first time that the demo is asked for.
bool isNewDemo(const app::Desk& desk)
{
    return desk.store->setting(QLatin1String(demo_mark)).isEmpty();
}

/// The collection to begin with, once the demo's data are there.
void importDemo(app::Desk& desk)
{
    const auto file = desk.store->database().directory() / "collections" / "brass-bus.json";
    if (isNewDemo(desk) && desk.parts.isEmpty())
        if (const auto deck =
                app::PartsDraft::read(desk.store->database().directory() / "parts" / "evening-deck.json");
            desk.notices.succeeded(deck))
            desk.parts.begin(*deck);
    if (isNewDemo(desk) && desk.notices.succeeded(exchange::importCollection(*desk.store, file)))
        (void)desk.notices.succeeded(desk.store->setSetting(QLatin1String(demo_mark), QStringLiteral("1")));
}

} // namespace

int main(int argc, char** argv)
{
    signal::giveLargeBlocksBack();
    std::signal(SIGXFSZ,
                SIG_IGN); // a write beyond the limit fails, which is said, instead of ending the program
    QApplication application(argc, argv);
    // Which takes the user's locale, with its comma: libraries that print and read numbers do it by this.
    std::setlocale(LC_NUMERIC, "C");
    QApplication::setApplicationName(QStringLiteral("Honest Rack"));
    QApplication::setDesktopFileName(QStringLiteral("honest-rack"));
    QApplication::setWindowIcon(QIcon::fromTheme(QStringLiteral("honest-rack")));
    const auto options = parse(QApplication::arguments());
    if (!options)
        return fail(options.error());
    auto store = library::Store::open(options->data);
    if (!store)
        return fail(store.error());
    app::Theme::apply(application, app::ThemeName::Paper);
    const auto stored = app::Session::stored(**store);
    const QString notice = (*store)->database().notice();
    app::Desk desk(std::move(*store));
    app::MainWindow window(desk);
    app::Session session(desk, window);
    session.restore(stored);
    if (!notice.isEmpty())
        window.showNotice(notice);
    window.show();
    app::FirstStart start(desk, window);
    if (options->demo && isNewDemo(desk)) // one with something to say
        window.findPage()->select(QStringLiteral("lv2:urn:honest-rack:specimens:cordage-leveller"));
    if (options->demo)
        start.run(
            QObject::tr("Make the demo's sounds"),
            [data = options->data](const auto& progress, const auto& cancel) {
                return demo::writeDemoData(data, progress, cancel);
            },
            [&] { importDemo(desk); });
    else
        start.run();
    app::Tour tour(desk, window, options->tour, options->only);
    if (!options->tour.isEmpty()) {
        QObject::connect(&tour, &app::Tour::finished, &application, [](const QString& why_not) {
            QApplication::exit(why_not.isEmpty() ? 0 : fail({Blame::Machine, why_not.toStdString()}));
        });
        tour.start();
    }
    const int status = QApplication::exec();
    // Everything is on disk by now; what does not end at once is not waited for.
    window.hide();
    if (!desk.end(std::chrono::milliseconds(150)))
        std::_Exit(status);
    return status;
}
