// SPDX-License-Identifier: GPL-3.0-or-later
#include "theme/theme.h"

#include <QApplication>
#include <QFile>
#include <QFontDatabase>
#include <QPalette>
#include <QStyleFactory>
#include <cmath>

namespace hr::app {

namespace {

const Palette paper{QColor(0xF6F2E9),
                    QColor(0xFFFDF7),
                    QColor(0xEDE7D9),
                    QColor(0xD8D0BF),
                    QColor(0x22303A),
                    QColor(0x5A6669),
                    QColor(0x0F5E6B),
                    QColor(0xFFFDF7),
                    QColor(0xE3ECEA),
                    QColor(0xF3E2AE),
                    QColor(0x9C5416),
                    QColor(0xA3262A),
                    QColor(0x35703F),
                    {QColor(0x0068A8), QColor(0xB84A00), QColor(0x007A58), QColor(0x9C4F7E), QColor(0x8A6A00),
                     QColor(0x26759C), QColor(0x7A4B23), QColor(0x5B4B9A)}};

const Palette lamplight{QColor(0x211D19),
                        QColor(0x2B2621),
                        QColor(0x1A1714),
                        QColor(0x4A423A),
                        QColor(0xEFE6D8),
                        QColor(0xB3A898),
                        QColor(0x6FB9C4),
                        QColor(0x16211F),
                        QColor(0x33403F),
                        QColor(0x6B5720),
                        QColor(0xE3A15C),
                        QColor(0xF08A86),
                        QColor(0x8CC79A),
                        {QColor(0x5BB4EB), QColor(0xF0965A), QColor(0x4CC6A0), QColor(0xDE9CC4),
                         QColor(0xE0BE55), QColor(0x9AD0EE), QColor(0xCFA27C), QColor(0xB6A8EE)}};

ThemeName the_current = ThemeName::Paper; // written by apply() only

QString styleSheet(const Palette& p)
{
    QFile file(QStringLiteral(":/theme/notebook.qss"));
    if (!file.open(QIODevice::ReadOnly))
        return {};
    QString sheet = QString::fromUtf8(file.readAll());
    const std::pair<const char*, QColor> roles[] = {
        {"@paper", p.paper}, {"@sheet", p.sheet}, {"@margin", p.margin},   {"@rule", p.rule},
        {"@ink", p.ink},     {"@faint", p.faint}, {"@action", p.action},   {"@on-action", p.on_action},
        {"@wash", p.wash},   {"@mark", p.mark},   {"@caution", p.caution}, {"@fault", p.fault},
        {"@pass", p.pass}};
    // Longer names first: "@on-action" must not be read as "@on" and a rest; none is a prefix of another here.
    for (const auto& [role, colour] : roles)
        sheet.replace(QLatin1String(role) + QLatin1Char(';'), colour.name() + QLatin1Char(';'));
    return sheet;
}

} // namespace

void Theme::apply(QApplication& application, ThemeName name)
{
    static const bool fonts_loaded = [] {
        for (const char* file : {"Inter-Regular.otf", "Inter-Medium.otf", "Inter-SemiBold.otf",
                                 "Inter-Bold.otf", "JetBrainsMono-Regular.ttf", "JetBrainsMono-Bold.ttf"})
            QFontDatabase::addApplicationFont(QStringLiteral(":/fonts/") + QLatin1String(file));
        return true;
    }();
    Q_UNUSED(fonts_loaded)
    the_current = name;
    const Palette& p = palette();
    QPalette colours;
    colours.setColor(QPalette::Window, p.paper);
    colours.setColor(QPalette::WindowText, p.ink);
    colours.setColor(QPalette::Base, p.sheet);
    colours.setColor(QPalette::AlternateBase, p.paper);
    colours.setColor(QPalette::Text, p.ink);
    colours.setColor(QPalette::PlaceholderText, p.faint);
    colours.setColor(QPalette::Button, p.sheet);
    colours.setColor(QPalette::ButtonText, p.ink);
    colours.setColor(QPalette::Highlight, p.wash);
    colours.setColor(QPalette::HighlightedText, p.ink);
    colours.setColor(QPalette::ToolTipBase, p.sheet);
    colours.setColor(QPalette::ToolTipText, p.ink);
    colours.setColor(QPalette::Link, p.action);
    application.setStyle(QStyleFactory::create(QStringLiteral("Fusion")));
    application.setPalette(colours);
    application.setFont(words(text_px));
    application.setStyleSheet(styleSheet(p));
}

const Palette& Theme::palette()
{
    return paletteOf(the_current);
}

const Palette& Theme::paletteOf(ThemeName name)
{
    return name == ThemeName::Paper ? paper : lamplight;
}

ThemeName Theme::current()
{
    return the_current;
}

QFont Theme::words(int pixels, int weight)
{
    QFont font(QStringLiteral("Inter"));
    font.setPixelSize(pixels);
    font.setWeight(static_cast<QFont::Weight>(weight));
    return font;
}

QFont Theme::figures(int pixels, int weight)
{
    QFont font(QStringLiteral("JetBrains Mono"));
    font.setPixelSize(pixels);
    font.setWeight(static_cast<QFont::Weight>(weight));
    return font;
}

QString number(double value, int digits)
{
    QString text = QString::number(value, 'f', digits);
    if (text.startsWith(QLatin1Char('-')))
        text.replace(0, 1, QChar(0x2212));
    // "−0.0" says a direction that is not there.
    static const QString zeros = QStringLiteral("0.");
    const bool all_zero =
        text.size() > 1 && std::all_of(text.begin() + 1, text.end(), [](QChar c) { return zeros.contains(c); });
    return text.startsWith(QChar(0x2212)) && all_zero ? text.mid(1) : text;
}

QString signedNumber(double value, int digits)
{
    const QString text = number(value, digits);
    return text.startsWith(QChar(0x2212)) || text.toDouble() == 0 ? text : QLatin1Char('+') + text;
}

QString figureText(double value, const QString& unit, int digits)
{
    const double least = std::pow(10.0, -digits);
    return unit == QStringLiteral("%") && value > 0 && value < least
               ? QStringLiteral("< ") + number(least, digits)
               : number(value, digits);
}

} // namespace hr::app
