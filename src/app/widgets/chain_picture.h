// SPDX-License-Identifier: GPL-3.0-or-later
//
// A chain as it is wired: stages in the order in which they run, paths between them, a dry path below a stage
// that is blended. Stages are chosen and moved by mouse and keys; on each path something can be put.
#pragma once

#include "chain/drawing.h"
#include "widgets/small_pictures.h"

#include <QSet>
#include <QWidget>
#include <optional>

namespace hr::app {

/// What stands on a node.
struct ChainCard {
    QString id;
    QString title, about; ///< its purpose, or its name; and "3 · Leveller · compressor"
    QString phase;        ///< empty: none
    QString state;        ///< "off", "not installed"; empty: it is at work
    QString remark;       ///< why it may stand oddly; empty: it does not
    bool is_stage = false, at_work = true, may_move = false;
    double blend_percent = 100;
    SmallPicture picture = SmallPicture::Response;
    QByteArray heights; ///< of the picture; empty: not known
};

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

    /// Where something is put that is added: a path, by its place among Drawing::paths; empty: there is none.
    std::optional<std::size_t> pathBehind(const QString& node) const;
    std::optional<std::size_t> pathBefore(const QString& node) const;
    const chain::Drawing& drawing() const { return m_drawing; }

    void zoom(double by);
    /// Middle of the column in which a node, "in" or "out" stands.
    double middleOf(const std::string& id) const;
    QRect placeOf(const QString& id) const;
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return sizeHint(); }

signals:
    void chosenChanged();
    void opened(const QString& id); ///< Return, or a double click
    void addAsked(std::size_t path, const QPoint& at);
    void moveAsked(const QStringList& ids, std::size_t path, bool copies);
    void processorsDropped(const QStringList& ids, std::size_t path);
    void menuAsked(const QPoint& at);
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
    const ChainCard* card(const QString& id) const;
    QRectF boxOf(const chain::DrawnNode& node) const;
    double laneMiddle(int lane) const;
    QPointF addPoint(const chain::DrawnPath& path) const;
    std::optional<std::size_t> pathAt(const QPointF& at, double within) const;
    QString nodeAt(const QPointF& at) const;
    QPointF onPaper(const QPointF& at) const { return at / m_zoom; }
    void layOut();
    void tellCurrent();
    void endDrag();

    void paintPhases(QPainter& painter) const;
    void paintPath(QPainter& painter, const chain::DrawnPath& path) const;
    void paintDryPath(QPainter& painter, const QRectF& box, double blend_percent) const;
    void paintStage(QPainter& painter, const QRectF& box, const ChainCard& card) const;
    void paintPart(QPainter& painter, const QRectF& box, const ChainCard& card) const;
    void paintAdd(QPainter& painter, std::size_t path, bool strong) const;

    const QString m_processors_format;
    chain::Drawing m_drawing;
    std::vector<ChainCard> m_cards;
    std::vector<std::pair<double, double>> m_columns; // left edge and width
    std::vector<std::pair<double, double>> m_lanes;   // middle of what stands in it, and lower end
    QSet<QString> m_chosen;
    QString m_current;
    double m_zoom = 1;
    std::optional<std::size_t> m_hovered; // path
    // A drag:
    QString m_pressed;
    QPointF m_pressed_at, m_dragged_to;
    bool m_dragging = false, m_copies = false, m_was_chosen = false;
    std::optional<std::size_t> m_target; // path
};

} // namespace hr::app
