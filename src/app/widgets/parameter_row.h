// SPDX-License-Identifier: GPL-3.0-or-later
//
// One parameter: its name, a slim track with the default ticked, the value as text that can be typed
// over. Double click resets, arrow keys step, with Shift finer; named values are a row of buttons.
#pragma once

#include "processors/description.h"

#include <QLineEdit>
#include <QWidget>
#include <functional>
#include <optional>

class QButtonGroup;

namespace hr::app {

class ElidedLabel;

class Track : public QWidget {
    Q_OBJECT
public:
    explicit Track(const processors::ParameterInfo& parameter, QWidget* parent = nullptr);

    void setValue(double value);
    void setDefault(double value);
    /// Between which random settings stay; empty: anywhere.
    void setLimits(std::optional<std::pair<double, double>> limits);
    double value() const { return m_value; }
    QSize sizeHint() const override { return {140, 18}; }

signals:
    void moved(double value);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;

private:
    void moveTo(double value);
    double xOf(double value) const;

    processors::ParameterInfo m_parameter;
    double m_value;
    std::optional<std::pair<double, double>> m_limits;
    double m_grab_x = 0;
    double m_grab_position = 0;
};

class ParameterRow : public QWidget {
    Q_OBJECT
public:
    explicit ParameterRow(const processors::ParameterInfo& parameter, QWidget* parent = nullptr);

    void setValue(double value);
    /// Where the tick is, and where a double click leads.
    void setDefault(double value);
    void setName(const QString& name);
    /// Of the sound, for note values that are typed ("1/8."); 0 where there is none.
    void setTempo(std::function<double()> bpm) { m_tempo_bpm = std::move(bpm); }
    /// A click on its name holds it, or lets it go again; so does H on its track.
    void setHoldable();
    void setHeld(bool on);
    void setLimits(std::optional<std::pair<double, double>> limits);
    /// That its value was given as ("1/8."), beside its name; empty: as a figure.
    void setNote(const QString& note);

signals:
    void changed(double value);
    void noteTyped(const QString& note, double value); ///< instead of changed()
    /// What was typed made no sense or lies outside the range; a sentence for the user.
    void refused(const QString& why);
    void holdRequested(bool on);

protected:
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void typed();
    void show(double value);
    void showName();
    void showTip();

    processors::ParameterInfo m_parameter;
    double m_value;
    std::function<double()> m_tempo_bpm;
    bool m_holdable = false;
    bool m_held = false;
    QString m_limited; // between which values
    QString m_note;
    ElidedLabel* m_name = nullptr;
    QLineEdit* m_edit = nullptr;
    Track* m_track = nullptr;
    QButtonGroup* m_choices = nullptr;
};

} // namespace hr::app
