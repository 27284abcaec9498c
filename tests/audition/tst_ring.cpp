// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/recent_input.h"
#include "audition/ring.h"
#include "support/fixtures.h"

#include <thread>

using hr::audition::Ring;

class tst_ring : public QObject {
    Q_OBJECT

private slots:
    void everyFrameArrivesOnceAndInOrder()
    {
        auto ring = std::make_unique<Ring>(256);
        constexpr int total = 200000;
        std::jthread writer([&] {
            std::array<float, 37> left{};
            std::array<float, 37> right{};
            for (int at = 0; at < total;) {
                const std::size_t count =
                    std::min({left.size(), ring->writable(), static_cast<std::size_t>(total - at)});
                for (std::size_t i = 0; i < count; ++i) {
                    left[i] = static_cast<float>(at + static_cast<int>(i));
                    right[i] = -left[i];
                }
                ring->write(left.data(), right.data(), count);
                at += static_cast<int>(count);
            }
        });
        int wrong = 0;
        for (int expected = 0; expected < total;) {
            const std::size_t count = ring->readable();
            for (std::size_t i = 0; i < count; ++i, ++expected)
                wrong += ring->peek(i).left != static_cast<float>(expected) ||
                         ring->peek(i).right != static_cast<float>(-expected);
            ring->skip(count);
        }
        QCOMPARE(wrong, 0);
        QCOMPARE(ring->readable(), std::size_t{0});
        QCOMPARE(ring->writable(), std::size_t{256});
    }

    void clearingDropsWhatWasNotRead()
    {
        Ring ring(8);
        const float some[] = {1, 2, 3};
        ring.write(some, some, 3);
        ring.clear();
        QCOMPARE(ring.readable(), std::size_t{0});
        ring.write(some + 1, some, 1);
        QCOMPARE(ring.peek(0).left, 2.0F);
    }

    /// Of what has come in, the latest is kept, in order, however it came.
    void whatIsOlderThanIsKeptIsGone()
    {
        hr::audition::RecentInput recent(1000, 2); // 2000 frames, and 5 s to spare
        QCOMPARE(recent.last(10).frames(), std::size_t{0});
        float next = 0;
        for (const std::size_t count : {1UL, 700UL, 1UL, 4000UL, 6000UL, 333UL}) {
            std::vector<float> frames(2 * count);
            for (std::size_t i = 0; i < count; ++i) {
                frames[2 * i] = next;
                frames[2 * i + 1] = -next++;
            }
            recent.put(frames.data(), count);
            const auto kept = recent.last(2);
            QCOMPARE(kept.frames(), std::min<std::size_t>(recent.arrived(), 2000));
            for (std::size_t i = 0; i < kept.frames(); ++i) {
                QCOMPARE(kept.channel(0)[i], next - static_cast<float>(kept.frames() - i));
                QCOMPARE(kept.channel(1)[i], -kept.channel(0)[i]);
            }
        }
        QCOMPARE(recent.since(recent.arrived() - 5).frames(), std::size_t{5});
        QCOMPARE(recent.since(0).frames(), std::size_t{2000}); // what is gone is left out
        QCOMPARE(recent.last(-1).frames(), std::size_t{0});
        QCOMPARE(recent.takePeak(), next - 1);
        QCOMPARE(recent.takePeak(), 0.0F);
    }
};

HR_TEST(tst_ring)
#include "tst_ring.moc"
