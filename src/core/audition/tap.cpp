// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/tap.h"

namespace hr::audition {

TapReader::TapReader(TapPoint point, ContenderId contender, std::size_t blocks)
    : m_point(point), m_contender(contender), m_blocks(blocks)
{
}

bool TapReader::take(TapBlock& block)
{
    const std::size_t read = m_read.load(std::memory_order_relaxed);
    if (read == m_written.load(std::memory_order_acquire))
        return false;
    block = m_blocks[read % m_blocks.size()];
    m_read.store(read + 1, std::memory_order_release);
    return true;
}

TapBlock* TapReader::room() noexcept
{
    const std::size_t written = m_written.load(std::memory_order_relaxed);
    if (written - m_read.load(std::memory_order_acquire) == m_blocks.size()) {
        m_lost.fetch_add(1, std::memory_order_relaxed);
        return nullptr;
    }
    return &m_blocks[written % m_blocks.size()];
}

void TapReader::commit() noexcept
{
    m_written.store(m_written.load(std::memory_order_relaxed) + 1, std::memory_order_release);
}

void TapReader::put(const TapBlock& block) noexcept
{
    if (TapBlock* place = room()) {
        *place = block;
        commit();
    }
}

void TapBoard::add(const std::shared_ptr<TapReader>& reader)
{
    const std::lock_guard lock(m_mutex);
    m_readers.push_back(reader);
    m_count.store(m_readers.size(), std::memory_order_relaxed);
}

std::vector<std::shared_ptr<TapReader>> TapBoard::of(ContenderId contender)
{
    std::vector<std::shared_ptr<TapReader>> found;
    const std::lock_guard lock(m_mutex);
    std::erase_if(m_readers, [](const auto& reader) { return reader.expired(); });
    m_count.store(m_readers.size(), std::memory_order_relaxed);
    for (const auto& weak : m_readers)
        if (auto reader = weak.lock(); reader && reader->contender() == contender)
            found.push_back(std::move(reader));
    return found;
}

} // namespace hr::audition
