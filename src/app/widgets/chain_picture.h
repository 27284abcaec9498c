// SPDX-License-Identifier: GPL-3.0-or-later
//
// A chain as it is wired: stages in the order in which they run, paths between them, a dry path below a stage
// that is blended. Stages are chosen and moved by mouse and keys; on each path something can be put.
#pragma once

#include "widgets/chain_layout.h"

#include <QSet>
#include <QWidget>
#include <map>
#include <optional>

namespace hr::app {

class ChainPicture : public QWidget {
    Q_OBJECT
public:
    /// `processors_format`: MIME type of ids of processors, one a line, that may be dropped here.
    explicit ChainPicture(const QString& processors_format, QWidget* parent = nullptr);

    /// The cards of the chain's nodes. What is chosen stays chosen where it is still there.
    void setChain(chain::Drawing drawing, std::vector<ChainCard> cards);

    /// Ids of the nodes that are chosen, in the order in which they run.
    QStringList chosen() const;
    QString current() const { return m_current; } ///< the one that keys move from; empty: none
    void choose(const QString& id, bool among_others = false);
    void chooseAll();
    void step(int columns, bool among_others = false);

    /// Of stages, by id, as they are at the moment; the others show none.
    void setGains(const std::map<QString, double>& gains_db);

    const ChainLayout& chainLayout() const { return m_layout; }

    void zoom(double by);
    /// Middle of the column in which a node, "in" or "out" stands.
    double middleOf(const std::string& id) const;
    QRect placeOf(const QString& id) const;
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return sizeHint(); }

signals:
    void chosenChanged();
    void opened(const QString& id); ///< Return, or a double click
    void addRequested(std::size_t path, const QPoint& at);
    void moveRequested(const QStringList& ids, std::size_t path, bool copies);
    /// One end of a path is put on a node, or on an end of the chain.
    void leadRequested(std::size_t path, bool arrives, const QString& node);
    void valueMoved(const QString& id, const QString& key, double value);
    void valueRequested(const QString& id, const QString& key, const QPoint& at); ///< to be typed
    void processorsDropped(const QStringList& ids, std::size_t path);
    void menuRequested(const QPoint& at);
    void zoomed();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dragMoveEvent(QDragMoveEvent* event) override;
    void dragLeaveEvent(QDragLeaveEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    bool event(QEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;

private:
    QPointF onPaper(const QPointF& at) const { return at / m_zoom; }
    void fitSize();
    void tellCurrent();
    void endDrag();
    bool takeHold(const QPointF& at);
    void turnValue(const QPointF& at, bool finely);

    const QString m_processors_format;
    ChainLayout m_layout;
    QSet<QString> m_chosen;
    QString m_current;
    double m_zoom = 1;
    std::optional<std::size_t> m_hovered; // path
    // A drag:
    QString m_pressed;
    QPointF m_pressed_at, m_dragged_to;
    bool m_dragging = false, m_copies = false, m_was_chosen = false;
    std::optional<std::size_t> m_target; // path
    std::optional<ChainLayout::End> m_hovered_end, m_held_end;
    std::optional<ChainLayout::ValueAt> m_held_value;
    double m_held_position = 0; // along its track
};

} // namespace hr::app
