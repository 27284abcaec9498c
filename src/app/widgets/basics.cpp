// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/basics.h"

#include <QHash>
#include <QKeyEvent>
#include <QStyle>
#include <QVBoxLayout>
#include <algorithm>

namespace hr::app {

namespace {

constexpr int words_px = 400; // of an empty state: fits beside everything else at the smallest window

class Paragraph : public QLabel {
public:
    using QLabel::QLabel;

    QSize sizeHint() const override
    {
        return {fontMetrics().averageCharWidth() * 40, minimumSizeHint().height()};
    }
    QSize minimumSizeHint() const override
    {
        const QMargins around = contentsMargins();
        return {24, fontMetrics().lineSpacing() + around.top() + around.bottom()};
    }
    int heightForWidth(int offered) const override
    {
        const int width = std::min(offered, maximumWidth());
        if (m_text != text() || m_font != font()) {
            m_text = text();
            m_font = font();
            m_heights.clear();
        }
        const auto known = m_heights.constFind(width);
        return known != m_heights.cend() ? *known : *m_heights.insert(width, QLabel::heightForWidth(width));
    }

private:
    mutable QString m_text; // what the heights are of
    mutable QFont m_font;
    mutable QHash<int, int> m_heights;
};

QLabel* plain(QLabel* made, const char* role)
{
    made->setTextFormat(Qt::PlainText); // names come from third parties
    if (role)
        setRole(made, role);
    return made;
}

} // namespace

Sheet::Sheet(QWidget* parent) : QFrame(parent)
{
    setObjectName(QStringLiteral("sheet"));
}

QLabel* label(const QString& text, const char* role, QWidget* parent)
{
    return plain(new QLabel(text, parent), role);
}

QLabel* paragraph(const QString& text, const char* role, QWidget* parent)
{
    QLabel* made = plain(new Paragraph(text, parent), role);
    made->setWordWrap(true);
    return made;
}

void setRole(QWidget* widget, const char* role)
{
    if (widget->property("role").toByteArray() == role)
        return;
    widget->setProperty("role", QByteArray(role));
    widget->style()->unpolish(widget);
    widget->style()->polish(widget);
}

Button::Button(const QString& text, QWidget* parent) : QPushButton(text, parent)
{
    setCursor(Qt::PointingHandCursor);
}

Button* Button::main()
{
    setProperty("main", true);
    return this;
}

Button* addButton(QBoxLayout& row, Button* button, QObject* owner, const std::function<void()>& work)
{
    QObject::connect(button, &QPushButton::clicked, owner, work);
    row.addWidget(button);
    return button;
}

Button* toggle(const QString& text, const QString& tip)
{
    auto* button = new Button(text);
    button->setCheckable(true);
    button->setToolTip(tip);
    return button;
}

void Button::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)
        click();
    else
        QPushButton::keyPressEvent(event);
}

ElidedLabel::ElidedLabel(const QString& text, QWidget* parent) : QLabel(parent)
{
    setTextFormat(Qt::PlainText);
    setWhole(text);
}

void ElidedLabel::setWhole(const QString& text)
{
    if (m_whole != text) {
        m_whole = text;
        updateGeometry();
    }
    setAccessibleName(text);
    const QString shown = fontMetrics().elidedText(text, Qt::ElideRight, width());
    setText(shown);
    setToolTip(shown == text ? QString() : text.toHtmlEscaped());
}

QSize ElidedLabel::sizeHint() const
{
    const QMargins around = contentsMargins();
    return {fontMetrics().horizontalAdvance(m_whole) + around.left() + around.right() + 1,
            QLabel::sizeHint().height()};
}

QSize ElidedLabel::minimumSizeHint() const
{
    return {24, QLabel::minimumSizeHint().height()};
}

void ElidedLabel::resizeEvent(QResizeEvent* event)
{
    QLabel::resizeEvent(event);
    setWhole(m_whole);
}

EmptyState::EmptyState(const QString& title, const QString& text, const QString& step, QWidget* parent)
    : QWidget(parent)
{
    auto* column = new QVBoxLayout(this);
    column->addStretch(2);
    m_title = label(title, "heading");
    m_title->setAlignment(Qt::AlignCenter);
    column->addWidget(m_title);
    m_text = paragraph(text);
    m_text->setAlignment(Qt::AlignCenter);
    m_text->setFixedWidth(words_px);
    column->addWidget(m_text, 0, Qt::AlignHCenter);
    m_step = (new Button({}))->main();
    connect(m_step, &QPushButton::clicked, this, &EmptyState::stepTaken);
    column->addSpacing(8);
    column->addWidget(m_step, 0, Qt::AlignHCenter);
    column->addStretch(3);
    setStep(step);
}

void EmptyState::setTexts(const QString& title, const QString& text)
{
    m_title->setText(title);
    m_text->setText(text);
}

void EmptyState::setStep(const QString& step)
{
    m_step->setText(step);
    m_step->setVisible(!step.isEmpty());
}

QString savedOrWhy(const Result<void>& written, const QString& file)
{
    return written ? QObject::tr("Saved as %1.").arg(file) : QString::fromStdString(written.error().text);
}

} // namespace hr::app
