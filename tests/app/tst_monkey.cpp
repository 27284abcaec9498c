// SPDX-License-Identifier: GPL-3.0-or-later
//
// Somebody who presses everything: random keys, clicks, drags and sizes, while workers and a sound server are
// killed underneath, at several scales and in several languages. Nothing may break, and nothing may hang. A
// child each, since scale and language are fixed once a program runs. HR_MONKEY_SECONDS lengthens it;
// HR_MONKEY_SEED repeats one.
#include "app/workbench.h"

#include <QFileDialog>
#include <QLineEdit>
#include <QProcess>
#include <QRandomGenerator>
#include <atomic>
#include <cstdio>
#include <thread>
#include <utility>

using namespace hr;
using namespace hr::app;
using test::Workbench;

namespace {

/// How long the interface has not come round at most, as a thread that only sleeps has seen it: while the
/// machine itself stands still, neither comes round.
class Watch {
public:
    Watch()
    {
        m_tick.setInterval(10);
        QObject::connect(&m_tick, &QTimer::timeout, &m_tick, [this] { ++m_rounds; });
        m_tick.start();
        m_thread = std::jthread([this](const std::stop_token& stop) {
            int last = -1;
            for (int looks = 0; !stop.stop_requested();) {
                std::this_thread::sleep_for(std::chrono::milliseconds(look_ms));
                const int now = m_rounds;
                looks = std::exchange(last, now) == now ? looks + 1 : 0;
                m_longest_ms = std::max(m_longest_ms.load(), looks * look_ms);
            }
        });
    }
    int longestMs() const { return m_longest_ms; }

private:
    static constexpr int look_ms = 20;

    QTimer m_tick;
    std::atomic<int> m_rounds{0};
    std::atomic<int> m_longest_ms{0};
    std::jthread m_thread;
};

class Monkey : public QObject {
public:
    Monkey(Workbench& bench, quint32 seed) : m_bench(bench), m_random(seed) { next(); }

    void setSizes(const QList<QSize>& sizes) { m_sizes = sizes; }
    void setServer(QProcess* server) { m_server = server; }
    int acts() const { return m_acts; }

private:
    int below(int n) { return static_cast<int>(m_random.bounded(n)); }

    QWidget* target() const
    {
        if (QWidget* popup = QApplication::activePopupWidget())
            return popup;
        if (QWidget* modal = QApplication::activeModalWidget())
            return modal;
        return m_bench.window.get();
    }

    /// Inside dialogs, too, which come back only once they are closed.
    void next() { QTimer::singleShot(3, this, &Monkey::act); }

    void act()
    {
        next();
        ++m_acts;
        if (auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget()))
            return dialog->reject(); // nothing of this machine is to be written over
        m_bench.window->show();
        switch (below(40)) {
        case 0:
            return m_bench.window->resize(m_sizes[below(static_cast<int>(m_sizes.size()))]);
        case 1:
            return below(4) == 0 ? test::killWorkers() : void();
        case 2:
            return below(8) == 0 && m_server ? m_server->kill() : void();
        case 3:
            return m_bench.window->showPage(all_pages[static_cast<std::size_t>(below(all_pages.size()))]);
        case 4:
            return drag();
        default:
            return below(2) == 0 ? click() : press();
        }
    }

    QPoint somewhere(const QWidget* in)
    {
        return {below(std::max(1, in->width())), below(std::max(1, in->height()))};
    }
    /// What lies under a point, as a hand finds it.
    static std::pair<QWidget*, QPoint> under(QWidget* window, QPoint at)
    {
        QWidget* child = window->childAt(at);
        return child ? std::pair(child, child->mapFrom(window, at)) : std::pair(window, at);
    }

    void click()
    {
        QWidget* window = target();
        const auto [widget, at] = under(window, somewhere(window));
        const Qt::MouseButton button = below(10) == 0 ? Qt::RightButton : Qt::LeftButton;
        const Qt::KeyboardModifiers held = below(8) == 0 ? Qt::AltModifier : Qt::NoModifier;
        if (below(10) == 0)
            QTest::mouseDClick(widget, button, held, at);
        else
            QTest::mouseClick(widget, button, held, at);
    }

    void drag()
    {
        QWidget* window = target();
        const auto [widget, at] = under(window, somewhere(window));
        QTest::mousePress(widget, Qt::LeftButton, {}, at);
        const QPointer<QWidget> still = widget;
        for (int i = 0; i < 4 && still; ++i)
            QTest::mouseMove(still, somewhere(still));
        if (still)
            QTest::mouseRelease(still, Qt::LeftButton, {}, somewhere(still));
    }

    void press()
    {
        QWidget* window = target();
        QWidget* widget = window->focusWidget() ? window->focusWidget() : window;
        static constexpr std::array keys{Qt::Key_Tab,   Qt::Key_Backtab, Qt::Key_Return,   Qt::Key_Escape,
                                         Qt::Key_Space, Qt::Key_Up,      Qt::Key_Down,     Qt::Key_Left,
                                         Qt::Key_Right, Qt::Key_Home,    Qt::Key_End,      Qt::Key_Delete,
                                         Qt::Key_F1,    Qt::Key_PageUp,  Qt::Key_PageDown, Qt::Key_Backspace};
        switch (below(4)) {
        case 0:
            return QTest::keyClick(widget, keys[static_cast<std::size_t>(below(keys.size()))]);
        case 1: // Ctrl with a letter, but for what ends it
            if (const int letter = below(26); letter != 'q' - 'a' && letter != 'w' - 'a')
                QTest::keyClick(widget, static_cast<Qt::Key>(Qt::Key_A + letter),
                                below(3) == 0 ? Qt::ControlModifier | Qt::ShiftModifier : Qt::ControlModifier);
            return;
        case 2:
            return QTest::keyClick(widget, static_cast<char>('0' + below(10)));
        default: {
            static const QStringList texts{
                QStringLiteral("comp"), QStringLiteral("1k2"),    QStringLiteral("−6,5 dB"),
                QStringLiteral("ıİß"),  QStringLiteral("zzzz"),   QStringLiteral("1e999"),
                QStringLiteral("<b>&"), QStringLiteral("\\n\\t"), QStringLiteral("🎛"),
                QStringLiteral("nan"),  QStringLiteral("1/8."),   QStringLiteral("refer")};
            if (auto* field = qobject_cast<QLineEdit*>(widget))
                field->insert(texts[below(static_cast<int>(texts.size()))]);
            return QTest::keyClick(widget, static_cast<char>(' ' + below(94)));
        }
        }
    }

    Workbench& m_bench;
    QRandomGenerator m_random;
    QList<QSize> m_sizes{{1280, 800}};
    QProcess* m_server = nullptr;
    int m_acts = 0;
};

int seconds()
{
    const int asked = qEnvironmentVariableIntValue("HR_MONKEY_SECONDS");
    return asked > 0 ? asked : 4;
}

/// A sanitizer's report from its beginning, else the end of what was said.
QString whatBroke(const QByteArray& said)
{
    const qsizetype report = said.indexOf("ERROR: ");
    return QString::fromUtf8(report < 0 ? said.right(4000) : said.mid(report, 8000));
}

} // namespace

/// What the children run.
class tst_pressed : public QObject {
    Q_OBJECT

private slots:
    void everything()
    {
        if (!qEnvironmentVariableIsSet("HR_MONKEY"))
            QSKIP("only as a child of tst_monkey");
        QTemporaryDir data;
        QDir::setCurrent(data.path());
        const quint32 seed = static_cast<quint32>(qEnvironmentVariableIntValue("HR_MONKEY_SEED"));
        Workbench bench(data.path());
        QVERIFY(bench.ready());
        QProcess server;
        test::useOwnJackServer();
        const auto startServer = [&] {
            test::forgetKilledJackServer();
            server.start(QStringLiteral("jackd"),
                         {QStringLiteral("-r"), QStringLiteral("-d"), QStringLiteral("dummy")});
        };
        startServer();
        bench.desk->output.choose({"JACK", ""});
        const Watch watch;
        Monkey monkey(bench, seed);
        monkey.setSizes({{640, 480}, {1100, 700}, {1280, 800}, {3840, 2160}});
        monkey.setServer(&server);
        QElapsedTimer since;
        since.start();
        while (since.elapsed() < 1000LL * seconds()) {
            QTest::qWait(500);
            if (server.state() == QProcess::NotRunning)
                startServer();
        }
        std::printf("acts %d, longest pause %d ms\n", monkey.acts(), watch.longestMs());
        server.kill();
        server.waitForFinished();
        QVERIFY2(watch.longestMs() < (qEnvironmentVariableIntValue("HR_MONKEY_PATIENCE_MS") > 0
                                          ? qEnvironmentVariableIntValue("HR_MONKEY_PATIENCE_MS")
                                          : 5000),
                 qPrintable(QString::number(watch.longestMs())));
        bench.window->close();
    }
};

class tst_monkey : public QObject {
    Q_OBJECT

private slots:
    void nothingBreaks_data()
    {
        QTest::addColumn<QString>("scale");
        QTest::addColumn<QString>("language");
        QTest::newRow("1, English") << "1"
                                    << "en_GB.UTF-8";
        QTest::newRow("1.5, German") << "1.5"
                                     << "de_DE.UTF-8";
        QTest::newRow("2, Turkish") << "2"
                                    << "tr_TR.UTF-8";
    }
    void nothingBreaks()
    {
        QFETCH(QString, scale);
        QFETCH(QString, language);
        QProcess child;
        QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
        const auto seed = qEnvironmentVariableIsSet("HR_MONKEY_SEED")
                              ? qEnvironmentVariable("HR_MONKEY_SEED")
                              : QString::number(QRandomGenerator::global()->bounded(1000000));
        for (const auto& [name, value] : {std::pair(QStringLiteral("HR_MONKEY"), QStringLiteral("1")),
                                          {QStringLiteral("HR_MONKEY_SEED"), seed},
                                          {QStringLiteral("QT_SCALE_FACTOR"), scale},
                                          {QStringLiteral("LC_ALL"), language}})
            environment.insert(name, value);
        child.setProcessEnvironment(environment);
        child.setProcessChannelMode(QProcess::MergedChannels);
        child.start(QCoreApplication::applicationFilePath(), {QStringLiteral("tst_pressed")});
        QVERIFY(child.waitForFinished(1000 * (seconds() + 120)));
        const QByteArray said = child.readAll();
        QVERIFY2(child.exitStatus() == QProcess::NormalExit && child.exitCode() == 0,
                 qPrintable(QStringLiteral("seed %1: %2").arg(seed, whatBroke(said))));
        std::printf("%s\n", said.mid(said.indexOf("acts"), 60).split('\n').front().constData());
    }
};

HR_TEST(tst_pressed)
HR_TEST(tst_monkey)
#include "tst_monkey.moc"
