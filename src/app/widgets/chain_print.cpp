// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/chain_print.h"

#include "exchange/document.h"
#include "widgets/chain_painter.h"

#include <QBuffer>
#include <QPageSize>
#include <QPdfWriter>

namespace hr::app {

namespace {

constexpr int sheet_dpi = 120; // at which a pixel of the screen is a little smaller on paper
constexpr double title_height = 34, between_strips = 26;

} // namespace

std::vector<std::pair<int, int>> stripsOf(const ChainLayout& layout, double width)
{
    std::vector<std::pair<int, int>> strips;
    const auto columns = static_cast<int>(layout.drawing().nodes.size());
    for (int first = 0; first < columns;) {
        int last = first;
        while (last + 1 < columns && layout.rightOf(last + 1) - layout.leftOf(first) <= width)
            ++last;
        strips.emplace_back(first, last);
        first = last + 1;
    }
    return strips;
}

Result<void> printChain(const ChainLayout& layout, const QString& title, const std::filesystem::path& file)
{
    QByteArray bytes;
    QBuffer out(&bytes);
    out.open(QIODevice::WriteOnly);
    {
        QPdfWriter writer(&out);
        writer.setPageSize(QPageSize(QPageSize::A4));
        writer.setPageOrientation(QPageLayout::Landscape);
        writer.setResolution(sheet_dpi);
        writer.setTitle(title);
        QPainter painter(&writer);
        const Palette& paper = Theme::paletteOf(ThemeName::Paper);
        painter.setFont(Theme::words(Theme::heading_px, QFont::DemiBold));
        painter.setPen(paper.ink);
        painter.drawText(QRectF(0, 0, writer.width(), title_height), Qt::AlignLeft | Qt::AlignTop, title);
        double top = title_height;
        const double height = layout.size().height();
        for (const auto& [first, last] : stripsOf(layout, writer.width() - 2 * ChainLayout::column_gap)) {
            if (top + height > writer.height() && top > title_height) {
                writer.newPage();
                top = 0;
            }
            const double left = layout.leftOf(first) - ChainLayout::column_gap;
            const double right = layout.rightOf(last) + ChainLayout::column_gap;
            painter.save();
            painter.translate(-left, top);
            painter.setClipRect(QRectF(left, 0, right - left, height));
            ChainPainter(painter, layout, {}, {}, paper).paint(QRectF(left, 0, right - left, height));
            painter.restore();
            top += height + between_strips;
        }
    }
    return exchange::writeText(file, bytes.toStdString());
}

} // namespace hr::app
