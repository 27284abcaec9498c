// SPDX-License-Identifier: GPL-3.0-or-later
#include "print/pdf.h"

#include "exchange/document.h"
#include "exchange/report/html.h"
#include "exchange/report/svg.h"

#include <QAbstractTextDocumentLayout>
#include <QBuffer>
#include <QPageSize>
#include <QPainter>
#include <QPdfWriter>
#include <QSvgRenderer>
#include <QTextBlock>
#include <QTextCursor>
#include <QTextDocument>
#include <QTextFrame>
#include <QTextLayout>
#include <cmath>

namespace hr::print {

namespace {

constexpr int page_dpi = 96; // a pixel of the style sheet is a pixel of the page
constexpr int finer = 3;     // a picture's points for each of the page's

QImage drawn(const std::string& svg)
{
    QSvgRenderer renderer(QByteArray::fromStdString(svg));
    QImage image(finer * renderer.defaultSize(), QImage::Format_RGB32);
    image.fill(Qt::white);
    QPainter painter(&image);
    renderer.render(&painter);
    return image;
}

/// Begins a new page before each heading that would stand at the foot of one, away from what it is about.
/// Pages are those of QTextDocument::print(): the writer's, with margins of 2 cm.
void keepHeadings(QTextDocument& document, QPdfWriter& writer)
{
    const std::unique_ptr<QTextDocument> laid_out(document.clone());
    laid_out->documentLayout()->setPaintDevice(&writer);
    QTextFrameFormat paper = laid_out->rootFrame()->frameFormat();
    paper.setMargin(2 / 2.54 * page_dpi);
    laid_out->rootFrame()->setFrameFormat(paper);
    laid_out->setPageSize(QSizeF(writer.width(), writer.height()));
    const auto pageOf = [&](double y) { return std::floor(y / writer.height()); };
    QTextBlock block = laid_out->begin();
    for (QTextBlock own = document.begin(); own.isValid(); own = own.next(), block = block.next()) {
        if (own.blockFormat().headingLevel() == 0 || !block.next().isValid())
            continue;
        const auto topOf = [&](const QTextBlock& one) {
            return laid_out->documentLayout()->blockBoundingRect(one).top();
        };
        const QTextLayout* below = block.next().layout();
        if (below->lineCount() == 0 ||
            pageOf(topOf(block)) == pageOf(topOf(block.next()) + below->lineAt(0).rect().bottom()))
            continue;
        QTextBlockFormat breaks;
        breaks.setPageBreakPolicy(QTextFormat::PageBreak_AlwaysBefore);
        QTextCursor(own).mergeBlockFormat(breaks);
        QTextCursor(block).mergeBlockFormat(breaks);
    }
}

} // namespace

std::unique_ptr<QGuiApplication> headlessApplication(int& argc, char** argv)
{
    qputenv("QT_QPA_PLATFORM", "offscreen");
    return std::make_unique<QGuiApplication>(argc, argv);
}

Result<void> writePdf(const nlohmann::ordered_json& report, const std::filesystem::path& file)
{
    QTextDocument document;
    int pictures = 0;
    const auto picture = [&](const nlohmann::ordered_json& plot) {
        exchange::SvgLook look;
        look.sheet = "#FFFFFF"; // ink on the printer's own paper
        const QString name = QStringLiteral("plot:%1").arg(++pictures);
        document.addResource(QTextDocument::ImageResource, QUrl(name), drawn(exchange::svgOf(plot, look)));
        return "<img src=\"" + name.toStdString() + "\" width=\"" + std::to_string(look.width) +
               "\" height=\"" + std::to_string(look.height) + "\">";
    };
    document.setHtml(QString::fromStdString(exchange::reportAsHtml(report, picture)));
    QTextFrameFormat paper = document.rootFrame()->frameFormat();
    paper.setBackground(Qt::white);
    document.rootFrame()->setFrameFormat(paper);
    QByteArray bytes;
    QBuffer out(&bytes);
    out.open(QIODevice::WriteOnly);
    {
        QPdfWriter writer(&out);
        writer.setPageSize(QPageSize(QPageSize::A4));
        writer.setResolution(page_dpi);
        writer.setTitle(QString::fromStdString(report.value("title", std::string())));
        keepHeadings(document, writer);
        document.print(&writer);
    }
    return exchange::writeText(file, bytes.toStdString());
}

} // namespace hr::print
