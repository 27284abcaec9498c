// SPDX-License-Identifier: GPL-3.0-or-later
//
// Find with 20 000 processors of 16 parameters each: the first usable window, from key press to painted list,
// scrolling, memory. Usage: QT_QPA_PLATFORM=offscreen bench-find [ENTRIES]
#include "frame/main_window.h"
#include "pages/find/find_page.h"
#include "theme/theme.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QFile>
#include <QLineEdit>
#include <QScrollBar>
#include <QTableView>
#include <QTemporaryDir>
#include <QTest>
#include <cstdio>
#include <functional>
#include <random>

using namespace hr;

namespace {

/// Makers, kinds, tags and notes as a large collection has them; all names made up.
constexpr int parameters = 16;

void fill(library::Store& store, int entries)
{
    const char* kinds[] = {"compressor", "equaliser", "reverb", "delay", "saturation", "filter", "gate"};
    const char* names[] = {"Lantern", "Cordage", "Tidepool", "Gannet",  "Brine", "Keel",    "Moorland",
                           "Stoat",   "Harrow",  "Sedge",    "Pewit",   "Marl",  "Tarn",    "Bracken",
                           "Ember",   "Flint",   "Hollow",   "Juniper", "Kiln",  "Larkspur"};
    hosting::Bundle bundle{"/made-up/everything.lv2", "1"};
    std::vector<hosting::Finding> findings;
    for (int i = 0; i < entries; ++i) {
        processors::ProcessorInfo info;
        info.id = "lv2:urn:made-up:" + std::to_string(i);
        info.name = std::string(names[i % 20]) + " " + names[(i / 20) % 20] + " " + std::to_string(i);
        info.maker = std::string(names[(i / 7) % 20]) + " Audio";
        info.kind = kinds[i % 7];
        info.format = "lv2";
        info.audio_in = info.audio_out = i % 3 ? 2 : 1;
        for (int p = 0; p < parameters; ++p)
            info.parameters.push_back({"control_" + std::to_string(p),
                                       std::string(names[p]) + " amount",
                                       "dB",
                                       -60,
                                       12,
                                       0,
                                       processors::Scale::Linear,
                                       {},
                                       "How much of it, from none to all."});
        info.documentation = std::string("Shapes the ") + names[(i / 3) % 20] + " of a sound, gently or not.";
        findings.push_back({{info.id, bundle.path}, info, std::nullopt});
    }
    (void)store.catalogue.record(bundle, {std::move(findings)});
    std::vector<std::pair<QString, library::Written>> written;
    for (int i = 0; i < entries; i += 2) {
        const QString id = QString::fromStdString("lv2:urn:made-up:" + std::to_string(i));
        library::Written words;
        words.note = QStringLiteral("heard on take %1, warm").arg(i % 97);
        words.tags = QStringList{i % 4 ? QStringLiteral("bus") : QStringLiteral("voice")};
        written.emplace_back(id, words);
    }
    (void)store.catalogue.write(written);
}

double megabytes(const char* key)
{
    QFile status(QStringLiteral("/proc/self/status"));
    if (!status.open(QIODevice::ReadOnly))
        return 0;
    for (const QByteArray& line : status.readAll().split('\n'))
        if (line.startsWith(key))
            return line.mid(static_cast<qsizetype>(std::strlen(key)) + 1)
                       .simplified()
                       .split(' ')[0]
                       .toDouble() /
                   1024;
    return 0;
}

template<class T>
T* named(const QWidget& window, const QString& accessible_name)
{
    for (T* one : window.findChildren<T*>())
        if (one->accessibleName() == accessible_name)
            return one;
    return nullptr;
}

/// How often a widget has painted itself.
class Paints : public QObject {
public:
    int count = 0;

    bool eventFilter(QObject*, QEvent* event) override
    {
        count += event->type() == QEvent::Paint;
        return false;
    }
};

double milliseconds(const QElapsedTimer& clock)
{
    return static_cast<double>(clock.nsecsElapsed()) / 1e6;
}

double percentile(std::vector<double> values, double part)
{
    std::ranges::sort(values);
    return values[static_cast<std::size_t>(part * static_cast<double>(values.size() - 1))];
}

} // namespace

int main(int argc, char** argv)
{
    QApplication application(argc, argv);
    const QTemporaryDir data;
    const std::filesystem::path directory = data.path().toStdString();
    {
        auto store = library::Store::open(directory);
        fill(**store, argc > 1 ? std::atoi(argv[1]) : 20000);
    }
    const double before_mb = megabytes("VmRSS:");
    QElapsedTimer clock;
    clock.start();
    app::Theme::apply(application, app::ThemeName::Paper);
    app::Desk desk(std::move(*library::Store::open(directory)));
    app::MainWindow window(desk);
    window.show();
    window.grab();
    std::printf("first painted window: %lld ms\n", clock.elapsed());

    for (const char* typed : {"c", "comp", "lantern tarn", "1", "l", "", "tidepol", "a b"}) {
        QElapsedTimer one;
        one.start();
        const auto found = desk.processors.finder().find({QString::fromLatin1(typed), {}});
        std::printf("the search alone, \"%s\": %zu found in %.1f ms\n", typed, found.rows.size(),
                    static_cast<double>(one.nsecsElapsed()) / 1e6);
    }
    std::vector<bench::Fingerprint> prints(20000);
    std::mt19937 random(1);
    std::normal_distribution<float> normal(0, 5);
    for (bench::Fingerprint& print : prints)
        for (float& figure : print)
            figure = normal(random);
    std::vector<double> nearest_ms;
    for (std::size_t i = 0; i < 100; ++i) {
        QElapsedTimer one;
        one.start();
        (void)bench::nearest(prints, prints[i], 20);
        nearest_ms.push_back(static_cast<double>(one.nsecsElapsed()) / 1e6);
    }
    std::printf("nearest 20 of 20000 by fingerprint: median %.1f ms, most %.1f ms\n",
                percentile(nearest_ms, 0.5), percentile(nearest_ms, 1));
    auto* search = named<QLineEdit>(window, QStringLiteral("search"));
    auto* list = named<QTableView>(window, QStringLiteral("processors"));
    Paints painted;
    list->viewport()->installEventFilter(&painted);
    std::vector<double> keys_ms;
    std::vector<double> answered_ms;
    std::vector<double> painted_ms;
    QTest::qWait(200);
    // Keys come when they come: one that finds the window busy with what followed the last has waited for it.
    QElapsedTimer typing;
    typing.start();
    double due_ms = 0;
    std::uniform_real_distribution<double> between_ms(60, 160);
    const auto press = [&](const std::function<void()>& key) {
        due_ms = std::max(due_ms, milliseconds(typing)) + between_ms(random);
        while (milliseconds(typing) < due_ms)
            QCoreApplication::processEvents();
        const int before = painted.count;
        key();
        const double answered = milliseconds(typing);
        while (painted.count == before)
            QCoreApplication::processEvents();
        keys_ms.push_back(milliseconds(typing) - due_ms);
        painted_ms.push_back(milliseconds(typing) - answered);
        answered_ms.push_back(answered - due_ms);
    };
    for (const char* typed :
         {"compressor", "lantern tarn 12", "warm bus", "tidepol", "zzz", "brine ember voice"}) {
        for (const char* key = typed; *key; ++key)
            press([&] { QTest::keyClick(search, *key); });
        for (const char* key = typed; *key; ++key)
            press([&] { QTest::keyClick(search, Qt::Key_Backspace); });
    }
    std::printf(
        "key press to painted list, %zu presses: median %.1f ms, 99th percentile %.1f ms, most %.1f ms\n",
        keys_ms.size(), percentile(keys_ms, 0.5), percentile(keys_ms, 0.99), percentile(keys_ms, 1));
    std::printf("  of which, median: answered %.1f ms, laid out and painted %.1f ms\n",
                percentile(answered_ms, 0.5), percentile(painted_ms, 0.5));
    std::vector<double> frames_ms;
    for (int i = 0; i < 300; ++i) {
        QElapsedTimer frame;
        frame.start();
        list->verticalScrollBar()->setValue(i * 61);
        list->viewport()->repaint();
        frames_ms.push_back(static_cast<double>(frame.nsecsElapsed()) / 1e6);
    }
    std::printf("a frame while scrolling: median %.1f ms, most %.1f ms (60 Hz: 16.7)\n",
                percentile(frames_ms, 0.5), percentile(frames_ms, 1));
    std::printf("memory: %.0f MiB, of which %.0f before there was anything\n", megabytes("VmRSS:"), before_mb);
}
