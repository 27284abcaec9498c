// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/parameter_row.h"

#include "processors/note_value.h"
#include "processors/value_text.h"
#include "theme/theme.h"
#include "widgets/basics.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace hr::app {

namespace {

constexpr double handle_radius = 5.5;
constexpr int most_choice_buttons = 6;

QString withUnit(const processors::ParameterInfo& p, double value)
{
    return QString::fromStdString(processors::valueWithUnit(p, value));
}

/// As wide as its widest value, so that the name keeps the rest.
int fieldWidth(const processors::ParameterInfo& parameter, QLineEdit& field)
{
    constexpr int steps = 16; // values between have no more digits
    constexpr int padding = 16;
    field.ensurePolished(); // the style sheet has its own font for it
    const QFontMetrics metrics = field.fontMetrics();
    int widest = metrics.horizontalAdvance(withUnit(parameter, parameter.default_value));
    for (int i = 0; i <= steps; ++i) {
        const double value = processors::valueAt(parameter, static_cast<double>(i) / steps);
        widest = std::max(widest, metrics.horizontalAdvance(withUnit(parameter, value)));
    }
    return widest + padding;
}

} // namespace

// --- Track -------------------------------------------------------------------------------------------

Track::Track(const processors::ParameterInfo& parameter, QWidget* parent)
    : QWidget(parent), m_parameter(parameter), m_value(parameter.default_value)
{
    setFocusPolicy(Qt::StrongFocus);
    setMinimumWidth(60);
    setFixedHeight(18);
    setAccessibleName(QString::fromStdString(parameter.name));
}

void Track::setValue(double value)
{
    m_value = value;
    setAccessibleDescription(withUnit(m_parameter, value));
    update();
}

void Track::setDefault(double value)
{
    m_parameter.default_value = value;
    update();
}

void Track::setLimits(std::optional<std::pair<double, double>> limits)
{
    m_limits = limits;
    update();
}

double Track::xOf(double value) const
{
    return handle_radius + processors::trackPosition(m_parameter, value) * (width() - 2 * handle_radius);
}

void Track::paintEvent(QPaintEvent*)
{
    const Palette& p = Theme::palette();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const double y = height() / 2.0;
    const double x = xOf(m_value);
    painter.setPen(QPen(p.rule, 2.5, Qt::SolidLine, Qt::RoundCap));
    painter.drawLine(QPointF(handle_radius, y), QPointF(width() - handle_radius, y));
    painter.setPen(QPen(p.ink, 2.5, Qt::SolidLine, Qt::RoundCap));
    painter.drawLine(QPointF(handle_radius, y), QPointF(x, y));
    if (m_limits) { // brackets, open towards each other
        painter.setPen(QPen(p.faint, 1));
        for (const auto& [at, inwards] :
             {std::pair(xOf(m_limits->first), 3.0), std::pair(xOf(m_limits->second), -3.0)}) {
            painter.drawLine(QPointF(at, y - 7), QPointF(at, y + 7));
            painter.drawLine(QPointF(at, y - 7), QPointF(at + inwards, y - 7));
            painter.drawLine(QPointF(at, y + 7), QPointF(at + inwards, y + 7));
        }
    }
    painter.setPen(QPen(p.faint, 1.5));
    const double tick = xOf(m_parameter.default_value);
    painter.drawLine(QPointF(tick, y - 6), QPointF(tick, y + 6));
    painter.setPen(QPen(hasFocus() ? p.action : p.ink, hasFocus() ? 2.5 : 1.8));
    painter.setBrush(p.sheet);
    painter.drawEllipse(QPointF(x, y), handle_radius - 1, handle_radius - 1);
}

void Track::moveTo(double value)
{
    if (value == m_value)
        return;
    setValue(value);
    emit moved(value);
}

void Track::mousePressEvent(QMouseEvent* event)
{
    if (event->button() != Qt::LeftButton)
        return event->ignore(); // a menu is asked for
    // Near the handle one takes hold of it; elsewhere it comes.
    if (std::abs(event->position().x() - xOf(m_value)) > 2 * handle_radius)
        moveTo(processors::valueAt(m_parameter,
                                   (event->position().x() - handle_radius) / (width() - 2 * handle_radius)));
    m_grab_x = event->position().x();
    m_grab_position = processors::trackPosition(m_parameter, m_value);
}

void Track::mouseMoveEvent(QMouseEvent* event)
{
    if (!(event->buttons() & Qt::LeftButton))
        return;
    const double finer = event->modifiers() & Qt::ShiftModifier ? 0.1 : 1.0;
    const double way = (event->position().x() - m_grab_x) / (width() - 2 * handle_radius);
    moveTo(processors::valueAt(m_parameter, m_grab_position + finer * way));
}

void Track::mouseDoubleClickEvent(QMouseEvent* event)
{
    if (event->button() == Qt::LeftButton)
        moveTo(m_parameter.default_value);
}

void Track::keyPressEvent(QKeyEvent* event)
{
    const bool fine = event->modifiers() & Qt::ShiftModifier;
    switch (event->key()) {
    case Qt::Key_Right:
    case Qt::Key_Up:
        return moveTo(processors::stepped(m_parameter, m_value, 1, fine));
    case Qt::Key_Left:
    case Qt::Key_Down:
        return moveTo(processors::stepped(m_parameter, m_value, -1, fine));
    case Qt::Key_Home:
        return moveTo(m_parameter.minimum);
    case Qt::Key_End:
        return moveTo(m_parameter.maximum);
    case Qt::Key_Backspace:
    case Qt::Key_Delete:
        return moveTo(m_parameter.default_value);
    default:
        QWidget::keyPressEvent(event);
    }
}

void Track::wheelEvent(QWheelEvent* event)
{
    // Only with the focus: scrolling a page must not turn what passes under the pointer.
    if (!hasFocus() || event->angleDelta().y() == 0)
        return event->ignore();
    moveTo(processors::stepped(m_parameter, m_value, event->angleDelta().y() > 0 ? 1 : -1,
                               event->modifiers() & Qt::ShiftModifier));
}

// --- ParameterRow ------------------------------------------------------------------------------------

ParameterRow::ParameterRow(const processors::ParameterInfo& parameter, QWidget* parent)
    : QWidget(parent), m_parameter(parameter), m_value(parameter.default_value)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(1);
    auto* top = new QHBoxLayout;
    m_name = new ElidedLabel(QString::fromStdString(parameter.name));
    setRole(m_name, "faint");
    setToolTip(QString::fromStdString(parameter.comment).toHtmlEscaped());
    top->addWidget(m_name, 1);
    column->addLayout(top);

    if (processors::hasNamedValues(parameter) && parameter.choices.size() <= most_choice_buttons) {
        auto choices = parameter.choices;
        if (choices.empty())
            choices = {{0, "off"}, {1, "on"}};
        m_choices = new QButtonGroup(this);
        auto* row = new QHBoxLayout;
        row->setSpacing(4);
        for (const auto& choice : choices) {
            auto* button = new Button(QString::fromStdString(choice.label));
            button->setCheckable(true);
            m_choices->addButton(button, static_cast<int>(std::lround(choice.value)));
            row->addWidget(button);
            connect(button, &QPushButton::clicked, this,
                    [this, value = choice.value] { show(value), emit changed(value); });
        }
        row->addStretch();
        column->addLayout(row);
    } else {
        m_edit = new QLineEdit;
        m_edit->setObjectName(QStringLiteral("value"));
        m_edit->setAlignment(Qt::AlignRight);
        m_edit->setFixedWidth(fieldWidth(parameter, *m_edit));
        m_edit->setAccessibleName(QString::fromStdString(parameter.name));
        top->addWidget(m_edit);
        m_track = new Track(parameter);
        column->addWidget(m_track);
        connect(m_track, &Track::moved, this, [this](double value) { show(value), emit changed(value); });
        connect(m_edit, &QLineEdit::editingFinished, this, &ParameterRow::typed);
    }
    setValue(parameter.default_value);
}

void ParameterRow::setValue(double value)
{
    show(value);
}

void ParameterRow::setDefault(double value)
{
    m_parameter.default_value = value;
    if (m_track)
        m_track->setDefault(value);
}

void ParameterRow::setName(const QString& name)
{
    m_name->setWhole(name);
    if (m_edit)
        m_edit->setAccessibleName(name);
}

void ParameterRow::setHoldable()
{
    m_holdable = true;
    m_name->setCursor(Qt::PointingHandCursor);
    setHeld(false);
}

void ParameterRow::setHeld(bool on)
{
    m_held = on;
    showName();
    setRole(m_name, on ? "held" : "faint");
    showTip();
}

void ParameterRow::setLimits(std::optional<std::pair<double, double>> limits)
{
    m_limited = limits ? tr("Random settings stay between %1 and %2.")
                             .arg(withUnit(m_parameter, limits->first), withUnit(m_parameter, limits->second))
                       : QString();
    if (m_track)
        m_track->setLimits(limits);
    showTip();
}

/// What it is, and what can be done with it.
void ParameterRow::showTip()
{
    QStringList lines{QString::fromStdString(m_parameter.comment).toHtmlEscaped(), m_limited};
    if (m_holdable)
        lines << (m_held ? tr("Presets and random settings leave it alone; click its name to let it go.")
                         : tr("Click its name to hold it against presets and random settings."));
    lines.removeAll(QString());
    setToolTip(lines.join(QStringLiteral("<br>")));
}

void ParameterRow::setNote(const QString& note)
{
    m_note = note;
    showName();
}

void ParameterRow::showName()
{
    QString name = QString::fromStdString(m_parameter.name);
    if (!m_note.isEmpty())
        name += tr(" · %1").arg(m_note);
    if (m_held)
        name += tr(" · held");
    m_name->setWhole(name);
}

void ParameterRow::mousePressEvent(QMouseEvent* event)
{
    if (!m_holdable || event->button() != Qt::LeftButton || !m_name->geometry().contains(event->pos()))
        return QWidget::mousePressEvent(event);
    emit holdRequested(!m_held);
}

void ParameterRow::keyPressEvent(QKeyEvent* event)
{
    if (!m_holdable || event->key() != Qt::Key_H)
        return QWidget::keyPressEvent(event);
    emit holdRequested(!m_held);
}

void ParameterRow::show(double value)
{
    m_value = value;
    if (m_track)
        m_track->setValue(value);
    if (m_edit)
        m_edit->setText(withUnit(m_parameter, value));
    if (m_choices)
        if (auto* button = m_choices->button(static_cast<int>(std::lround(value))))
            button->setChecked(true);
}

void ParameterRow::typed()
{
    if (m_edit->text() == withUnit(m_parameter, m_value))
        return;
    const std::string text = m_edit->text().toStdString();
    const double tempo_bpm = m_tempo_bpm ? m_tempo_bpm() : 0;
    const bool takes_notes = m_tempo_bpm && processors::noteInUnit("1/4", 120, m_parameter.unit).has_value();
    if (takes_notes && tempo_bpm <= 0 && processors::isNoteValue(text)) {
        emit refused(tr("“%1” needs a tempo, and the source has none: tap it with T, or type it with Shift+T.")
                         .arg(m_edit->text()));
        return show(m_value);
    }
    const auto note = takes_notes ? processors::noteInUnit(text, tempo_bpm, m_parameter.unit) : std::nullopt;
    const auto value = note ? note : processors::parseValue(m_parameter, text);
    const QString range =
        tr("%1 takes %2 to %3.")
            .arg(QString::fromStdString(m_parameter.name), withUnit(m_parameter, m_parameter.minimum),
                 withUnit(m_parameter, m_parameter.maximum));
    if (!value) {
        emit refused(tr("“%1” is not a value. %2").arg(m_edit->text(), range));
        return show(m_value);
    }
    const double inside = std::clamp(*value, m_parameter.minimum, m_parameter.maximum);
    if (inside != *value)
        emit refused(tr("%1 It was set to the nearest.").arg(range));
    show(inside);
    if (note)
        emit noteTyped(QString::fromStdString(text).simplified(), inside);
    else
        emit changed(inside);
}

} // namespace hr::app
