// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/write/page_block.h"

#include "exchange/report/html.h"
#include "exchange/report/svg.h"
#include "theme/theme.h"
#include "widgets/basics.h"

#include <QKeyEvent>
#include <QSvgRenderer>
#include <QSvgWidget>
#include <QTextEdit>
#include <QVBoxLayout>

namespace hr::app {

namespace {

using nlohmann::ordered_json;

exchange::SvgLook look()
{
    const Palette& p = Theme::palette();
    exchange::SvgLook look;
    look.height = 260;
    look.sheet = p.sheet.name().toStdString();
    look.rule = p.rule.name().toStdString();
    look.ink = p.ink.name().toStdString();
    look.faint = p.faint.name().toStdString();
    for (std::size_t i = 0; i < look.candidates.size(); ++i)
        look.candidates[i] = p.candidates[i].name().toStdString();
    return look;
}

/// What a label needs of the style that the export brings with it.
QString bodyOf(const ordered_json& part)
{
    ordered_json without_heading = part;
    without_heading["heading"] = "";
    QString html =
        QString::fromStdString(exchange::htmlOf(without_heading, [](const ordered_json&) { return ""; }));
    html.remove(QStringLiteral("<h2></h2>"));
    const Palette& p = Theme::palette();
    html.replace(QStringLiteral("<table>"),
                 QStringLiteral("<table width=\"100%\" cellspacing=\"0\" cellpadding=\"4\">"));
    html.replace(QStringLiteral("<th scope=\"col\" class=\"name\">"), QStringLiteral("<th align=\"left\">"));
    html.replace(QStringLiteral("<th scope=\"col\">"), QStringLiteral("<th align=\"right\">"));
    html.replace(QStringLiteral("<td>"),
                 QStringLiteral("<td align=\"right\" style=\"font-family:'JetBrains Mono'; font-size:12px; "
                                "border-top:1px solid %1\">")
                     .arg(p.rule.name()));
    html.replace(QStringLiteral("<td class=\"name\""),
                 QStringLiteral("<td style=\"border-top:1px solid %1\"").arg(p.rule.name()));
    html.replace(
        QStringLiteral("<p class=\"faint\">"),
        QStringLiteral("<p style=\"color:%1; font-size:11px; margin:4px 0 0 0\">").arg(p.faint.name()));
    html.replace(QStringLiteral("<p class=\"sentence\">"),
                 QStringLiteral("<p style=\"font-size:16px; font-weight:600; margin:2px 0\">"));
    return html;
}

} // namespace

PageBlock::PageBlock(const ordered_json& part, bool frozen, QWidget* parent) : QWidget(parent)
{
    part.value("kind", std::string()) == "text" ? makeText() : makeSheet();
    show(part, frozen);
}

void PageBlock::makeText()
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    m_text = new QTextEdit;
    m_text->setObjectName(QStringLiteral("words"));
    m_text->setAccessibleName(tr("words"));
    m_text->setPlaceholderText(tr("Write here. **Bold**, # headings and - lists as in Markdown."));
    m_text->setFrameShape(QFrame::NoFrame);
    m_text->document()->setDocumentMargin(2);
    m_text->setTabChangesFocus(true);
    m_text->setAcceptRichText(false);
    m_text->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_text->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_text->installEventFilter(this);
    m_text->setToolTip(tr("Alt+Up and Alt+Down move it on the page; Backspace takes it off once it is empty"));
    column->addWidget(m_text);
    connect(m_text, &QTextEdit::textChanged, this, [this] {
        fitText();
        if (!m_filling)
            emit written(m_text->toPlainText());
    });
}

void PageBlock::makeSheet()
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    auto* sheet = new Sheet;
    column->addWidget(sheet);
    auto* inside = new QVBoxLayout(sheet);
    inside->setContentsMargins(14, 8, 10, 10);
    inside->setSpacing(4);
    auto* top = new QHBoxLayout;
    m_heading = label({}, "strong");
    top->addWidget(m_heading);
    top->addStretch();
    m_freeze = new Button({});
    connect(m_freeze, &QPushButton::clicked, this, [this] { emit freezeRequested(!m_frozen); });
    top->addWidget(m_freeze);
    const auto small = [&](const QString& text, const QString& name) {
        auto* button = new Button(text);
        button->setAccessibleName(name);
        button->setToolTip(name);
        button->setFixedWidth(32);
        top->addWidget(button);
        return button;
    };
    connect(small(QStringLiteral("↑"), tr("further up the page")), &QPushButton::clicked, this,
            [this] { emit moveRequested(-1); });
    connect(small(QStringLiteral("↓"), tr("further down the page")), &QPushButton::clicked, this,
            [this] { emit moveRequested(1); });
    connect(small(QStringLiteral("✕"), tr("take it off the page")), &QPushButton::clicked, this,
            [this] { emit removeRequested(); });
    inside->addLayout(top);
    m_plot = new QSvgWidget;
    m_plot->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed); // as wide as the page
    m_plot->hide();
    inside->addWidget(m_plot);
    m_body = new QLabel;
    m_body->setTextFormat(Qt::RichText);
    m_body->setWordWrap(true);
    m_body->setTextInteractionFlags(Qt::TextSelectableByMouse);
    inside->addWidget(m_body);
}

void PageBlock::show(const ordered_json& part, bool frozen)
{
    m_frozen = frozen;
    m_filling = true;
    if (m_text) {
        const QString markdown = QString::fromStdString(part.value("markdown", std::string()));
        if (m_text->toPlainText() != markdown)
            m_text->setPlainText(markdown);
        fitText();
    } else {
        m_heading->setText(QString::fromStdString(part.value("heading", std::string())));
        const std::string kind = part.value("kind", std::string());
        m_freeze->setVisible(kind != "trial");
        m_freeze->setText(frozen ? tr("frozen") : tr("follows the readings"));
        m_freeze->setToolTip(frozen ? tr("follow the readings again") : tr("keep it as it is now"));
        const bool plot = kind == "plot" && !part.contains("missing");
        m_plot->setVisible(plot);
        if (plot) {
            const exchange::SvgLook with = look();
            m_plot->load(QByteArray::fromStdString(exchange::svgOf(part, with)));
            m_plot->renderer()->setAspectRatioMode(Qt::KeepAspectRatio);
            m_plot->setFixedHeight(with.height);
            m_plot->setAccessibleName(m_heading->text());
        }
        m_body->setText(bodyOf(part));
    }
    m_filling = false;
}

void PageBlock::writeHere()
{
    if (m_text)
        m_text->setFocus();
}

/// As high as its words.
void PageBlock::fitText()
{
    m_text->document()->setTextWidth(m_text->viewport()->width());
    constexpr int least = 34;
    m_text->setFixedHeight(std::max(least, static_cast<int>(m_text->document()->size().height()) + 6));
}

bool PageBlock::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() == QEvent::Resize)
        fitText();
    if (event->type() == QEvent::FocusIn)
        emit chosen();
    if (event->type() == QEvent::ShortcutOverride && movesBy(*static_cast<QKeyEvent*>(event)) != 0)
        event->accept(); // elsewhere these keys move rows
    if (event->type() == QEvent::KeyPress && pressed(*static_cast<QKeyEvent*>(event)))
        return true;
    return QWidget::eventFilter(watched, event);
}

int PageBlock::movesBy(const QKeyEvent& key)
{
    return key.modifiers() != Qt::AltModifier ? 0
           : key.key() == Qt::Key_Up          ? -1
           : key.key() == Qt::Key_Down        ? 1
                                              : 0;
}

/// Words have no buttons of their own.
bool PageBlock::pressed(const QKeyEvent& key)
{
    if (const int by = movesBy(key); by != 0)
        emit moveRequested(by);
    else if (key.key() == Qt::Key_Backspace && m_text->document()->isEmpty())
        emit removeRequested();
    else
        return false;
    return true;
}

} // namespace hr::app
