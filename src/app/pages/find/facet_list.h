// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the list can be narrowed by, with how many there would be. A click wants a value, a second takes that
// back; with Alt, or the minus key, it is not wanted. Painted as one, because it changes at every key of a
// search.
#pragma once

#include "library/find/finder.h"

#include <QAbstractScrollArea>
#include <set>

namespace hr::app {

class FacetList : public QAbstractScrollArea {
    Q_OBJECT
public:
    explicit FacetList(QWidget* parent = nullptr);

    void show(const library::Finder::Found& found, const std::vector<library::FacetChoice>& choices);
    /// Wanted, or with `negated` not wanted; the same again takes it back.
    void toggle(library::Facet facet, const QString& value, bool negated);

signals:
    void chosen(const std::vector<hr::library::FacetChoice>& choices);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    bool viewportEvent(QEvent* event) override;

private:
    enum class Kind { Heading, Value, More };
    struct Line {
        Kind kind;
        library::Facet facet;
        QString value;
        int count = 0;
    };
    void rebuild();
    void addFacet(library::Facet facet, std::vector<library::FacetCount> counts);
    const library::FacetChoice* choiceOf(const Line& line) const;
    int lineAt(double y) const;
    void act(int line, bool negated);
    void paintValue(QPainter& painter, const Line& line, const QRect& box) const;

    std::array<std::vector<library::FacetCount>, library::facet_count> m_counts;
    std::vector<library::FacetChoice> m_choices;
    std::vector<Line> m_lines;
    std::set<library::Facet> m_open; // showing all their values
    int m_current = -1;              // of the keyboard
};

} // namespace hr::app
