// SPDX-License-Identifier: GPL-3.0-or-later
//
// The source as a waveform, with the section that repeats and where it plays. Dragging makes a new
// section, its edges can be moved, a click goes there, a double click takes the whole.
#pragma once

#include "audition/source.h"

#include <QWidget>

namespace hr::app {

class WaveformView : public QWidget {
    Q_OBJECT
public:
    explicit WaveformView(QWidget* parent = nullptr);

    void setSource(std::shared_ptr<const audition::Source> source);
    void setLoop(audition::Section loop);
    void setPosition(std::size_t frame);
    /// Whether it is what is heard: else it is faint, and nothing moves along it.
    void setHeard(bool heard);

signals:
    void loopChosen(hr::audition::Section loop);
    void positionChosen(std::size_t frame);

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void reduce();
    double xOf(std::size_t frame) const;
    std::size_t frameAt(double x) const;
    audition::Section dragged() const;

    std::shared_ptr<const audition::Source> m_source;
    std::vector<float> m_peaks; // one a pixel column
    audition::Section m_loop;
    std::size_t m_position = 0;
    bool m_heard = true;
    bool m_dragging = false;
    double m_from_x = 0, m_to_x = 0;
};

} // namespace hr::app
