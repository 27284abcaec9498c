// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/find/written_editor.h"

#include "theme/theme.h"
#include "widgets/basics.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QPainter>
#include <QPlainTextEdit>
#include <QVBoxLayout>
#include <algorithm>

namespace hr::app {

using library::Entry;
using library::Written;

namespace {

constexpr int star_px = 20;

QStringList tagsOf(const QString& text)
{
    QStringList tags;
    for (const QString& tag : text.split(QLatin1Char(','), Qt::SkipEmptyParts))
        if (const QString trimmed = tag.trimmed(); !trimmed.isEmpty() && !tags.contains(trimmed))
            tags << trimmed;
    return tags;
}

} // namespace

Stars::Stars(QWidget* parent) : QWidget(parent)
{
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("rating"));
    setFixedSize(Stars::sizeHint());
    setToolTip(tr("1 to 5; the same again takes it away"));
}

QSize Stars::sizeHint() const
{
    return {5 * star_px, star_px + 2};
}

void Stars::setRating(int rating)
{
    m_rating = rating;
    update();
}

void Stars::paintEvent(QPaintEvent*)
{
    const Palette& p = Theme::palette();
    QPainter painter(this);
    painter.setFont(Theme::words(Theme::heading_px));
    for (int i = 0; i < 5; ++i) {
        painter.setPen(i < m_rating ? p.ink : p.rule);
        painter.drawText(QRect(i * star_px, 0, star_px, star_px), Qt::AlignCenter,
                         QString(i < m_rating ? u'★' : u'☆'));
    }
    if (hasFocus())
        painter.fillRect(QRect(2, height() - 2, width() - 4, 2), p.action);
}

void Stars::mousePressEvent(QMouseEvent* event)
{
    const int clicked = std::clamp(static_cast<int>(event->position().x()) / star_px + 1, 1, 5);
    emit rated(clicked == m_rating ? 0 : clicked);
}

void Stars::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Left || event->key() == Qt::Key_Right)
        emit rated(std::clamp(m_rating + (event->key() == Qt::Key_Left ? -1 : 1), 0, 5));
    else
        QWidget::keyPressEvent(event);
}

WrittenEditor::WrittenEditor(const FindServices& services, QWidget* parent)
    : QWidget(parent), m_services(services), m_alias(new QLineEdit), m_favourite(new Button(tr("Favourite"))),
      m_stars(new Stars), m_tags(new QLineEdit), m_note(new QPlainTextEdit)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 6, 0, 6);
    column->setSpacing(5);
    m_alias->setAccessibleName(tr("own name"));
    m_alias->setPlaceholderText(tr("a name of your own"));
    column->addWidget(m_alias);
    auto* marks = new QHBoxLayout;
    m_favourite->setCheckable(true);
    marks->addWidget(m_favourite);
    marks->addStretch();
    marks->addWidget(m_stars);
    column->addLayout(marks);
    m_tags->setAccessibleName(tr("tags"));
    m_tags->setPlaceholderText(tr("tags, with commas between"));
    column->addWidget(m_tags);
    m_note->setAccessibleName(tr("note"));
    m_note->setPlaceholderText(tr("a note"));
    m_note->setFixedHeight(54);
    m_note->setTabChangesFocus(true);
    m_note->installEventFilter(this);
    column->addWidget(m_note);

    connect(m_alias, &QLineEdit::editingFinished, this, [this] {
        const QString alias = m_alias->text().trimmed();
        if (m_entries.size() == 1 && alias != m_entries.front().alias)
            m_services.notebook.write(ids(), tr("own name"), [alias](Written& w) { w.alias = alias; });
    });
    connect(m_favourite, &QPushButton::clicked, this, [this](bool on) {
        m_services.notebook.write(ids(), tr("favourite"), [on](Written& w) { w.favourite = on; });
    });
    connect(m_stars, &Stars::rated, this, [this](int rating) {
        m_services.notebook.write(ids(), tr("rating"), [rating](Written& w) { w.rating = rating; });
    });
    connect(m_tags, &QLineEdit::editingFinished, this, &WrittenEditor::tagsEdited);
}

QStringList WrittenEditor::ids() const
{
    QStringList all;
    for (const Entry& entry : m_entries)
        all << entry.id;
    return all;
}

void WrittenEditor::show(const std::vector<Entry>& entries)
{
    m_entries = entries;
    setVisible(!entries.empty());
    if (entries.empty())
        return;
    const bool one = entries.size() == 1;
    m_alias->setVisible(one);
    m_note->setVisible(one);
    m_alias->setText(entries.front().alias);
    m_note->setPlainText(entries.front().note);
    m_favourite->setChecked(std::ranges::all_of(entries, &Entry::favourite));
    const int rating = entries.front().rating;
    m_stars->setRating(std::ranges::all_of(entries, [&](const Entry& e) { return e.rating == rating; }) ? rating
                                                                                                        : 0);
    m_common_tags = entries.front().tags;
    for (const Entry& entry : entries)
        m_common_tags.removeIf([&](const QString& tag) { return !entry.tags.contains(tag); });
    m_tags->setText(m_common_tags.join(QStringLiteral(", ")));
}

void WrittenEditor::tagsEdited()
{
    const QStringList tags = tagsOf(m_tags->text());
    if (tags == m_common_tags)
        return;
    const QStringList before = std::exchange(m_common_tags, tags);
    m_services.notebook.write(ids(), tr("tags"), [before, tags](Written& w) {
        w.tags.removeIf([&](const QString& tag) { return before.contains(tag) && !tags.contains(tag); });
        for (const QString& tag : tags)
            if (!w.tags.contains(tag))
                w.tags << tag;
    });
}

void WrittenEditor::noteEdited()
{
    const QString note = m_note->toPlainText();
    if (m_entries.size() == 1 && note != m_entries.front().note)
        m_services.notebook.write(ids(), tr("note"), [note](Written& w) { w.note = note; });
}

bool WrittenEditor::eventFilter(QObject* watched, QEvent* event)
{
    if (watched == m_note && event->type() == QEvent::FocusOut)
        noteEdited();
    return QWidget::eventFilter(watched, event);
}

} // namespace hr::app
