// SPDX-License-Identifier: GPL-3.0-or-later
#include "print/pdf.h"

#include "exchange/report/html.h"
#include "exchange/report/svg.h"

#include <QPageSize>
#include <QPainter>
#include <QPdfWriter>
#include <QSaveFile>
#include <QSvgRenderer>
#include <QTextDocument>
#include <QTextFrame>

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
    QSaveFile out(QString::fromStdString(file.string()));
    if (out.open(QIODevice::WriteOnly)) {
        QPdfWriter writer(&out);
        writer.setPageSize(QPageSize(QPageSize::A4));
        writer.setResolution(page_dpi);
        writer.setTitle(QString::fromStdString(report.value("title", std::string())));
        document.print(&writer);
    }
    if (!out.commit())
        return machineFailed("Cannot write " + file.string() + " (" + out.errorString().toStdString() +
                             "): choose another place.");
    return {};
}

} // namespace hr::print
