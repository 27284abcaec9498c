// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/plot.h"

#include "exchange/document.h"
#include "theme/theme.h"
#include "widgets/ask_file.h"
#include "widgets/basics.h"
#include "widgets/candidate_mark.h"
#include "widgets/plot_export.h"
#include "widgets/plot_tickers.h"

#include <QBuffer>
#include <QClipboard>
#include <QContextMenuEvent>
#include <QFile>
#include <QGuiApplication>
#include <QKeyEvent>
#include <QMenu>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <qcustomplot.h>

namespace hr::app {

namespace {

constexpr int end_label_px = 98;
constexpr std::size_t told_points = 12; // a line of so few is drawn with its points
constexpr int end_shape_px = 11;
constexpr double end_at = 1.01; // of the width
constexpr double finer = 2;     // points of a saved picture for each on the screen
/// Where bars of levels in dB stand.
constexpr double stem_floor = -150;

/// The shape of a candidate, at the end of its line.
class EndShape : public QCPAbstractItem {
public:
    EndShape(QCustomPlot& plot, int mark, double y)
        : QCPAbstractItem(&plot), m_position(createPosition(QStringLiteral("position"))), m_mark(mark)
    {
        m_position->setTypeX(QCPItemPosition::ptAxisRectRatio);
        m_position->setTypeY(QCPItemPosition::ptPlotCoords);
        m_position->setCoords(end_at, y);
        setClipToAxisRect(false);
    }
    double selectTest(const QPointF&, bool, QVariant*) const override { return -1; }

protected:
    void draw(QCPPainter* painter) override
    {
        const QPointF at = m_position->pixelPosition();
        paintShape(*painter, QRectF(at.x() + 2, at.y() - end_shape_px / 2.0, end_shape_px, end_shape_px),
                   m_mark);
    }

private:
    QCPItemPosition* m_position;
    int m_mark;
};

} // namespace

QString frequencyText(double hz)
{
    return hz >= 1000 ? number(hz / 1000, 2) + QStringLiteral(" kHz")
                      : number(hz, hz < 100 ? 1 : 0) + QStringLiteral(" Hz");
}

Plot::Plot(Axis x, Axis y, Drawing drawing, QWidget* parent)
    : QWidget(parent), m_x(std::move(x)), m_y(std::move(y)), m_drawing(drawing), m_plot(new QCustomPlot(this)),
      m_stems(new QCPBarsGroup(m_plot))
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(m_plot);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("plot of %1 over %2").arg(m_y.name, m_x.name));
    m_plot->installEventFilter(this);
    m_plot->setMouseTracking(true);
    m_plot->setInteractions(QCP::iRangeDrag | QCP::iRangeZoom);
    m_plot->setNoAntialiasingOnDrag(true);
    connect(m_plot, &QCustomPlot::afterLayout, this, &Plot::placeWords);
    if (m_x.logarithmic) {
        m_plot->xAxis->setScaleType(QCPAxis::stLogarithmic);
        m_plot->xAxis->setTicker(QSharedPointer<QCPAxisTicker>(new OneTwoFiveTicker(*m_plot->xAxis)));
    } else {
        m_plot->xAxis->setTicker(QSharedPointer<QCPAxisTicker>(new LevelTicker(*m_plot->xAxis)));
    }
    m_plot->yAxis->setTicker(QSharedPointer<QCPAxisTicker>(new LevelTicker(*m_plot->yAxis)));
    const auto named = [](const Axis& axis) {
        return axis.unit.isEmpty() ? axis.name : QStringLiteral("%1, %2").arg(axis.name, axis.unit);
    };
    m_plot->xAxis->setLabel(named(m_x));
    m_plot->yAxis->setLabel(named(m_y));
    m_line = new QCPItemStraightLine(m_plot);
    m_reading = new QCPItemText(m_plot);
    m_reading->setTextAlignment(Qt::AlignLeft);
    m_reading->setPadding(QMargins(6, 4, 6, 4));
    m_reading->position->setTypeX(QCPItemPosition::ptAxisRectRatio);
    m_reading->position->setTypeY(QCPItemPosition::ptAxisRectRatio);
    m_reading->setClipToAxisRect(false);
    m_line->setLayer(QStringLiteral("overlay"));
    m_reading->setLayer(QStringLiteral("overlay"));
    m_nothing = new QCPItemText(m_plot);
    m_nothing->position->setType(QCPItemPosition::ptAxisRectRatio);
    m_nothing->position->setCoords(0.5, 0.5);
    setNothing(tr("nothing to draw yet"));
    // Room for the labels at the lines' ends, where no curve runs.
    m_plot->axisRect()->setMinimumMargins(QMargins(0, 6, m_drawing == Drawing::Lines ? end_label_px : 10, 0));
    if (hasStems())
        m_plot->yAxis->grid()->setZeroLinePen(Qt::NoPen);
    hideCursor();
    setThemeColours();
    resetRanges();
}

void Plot::setNothing(const QString& text)
{
    m_nothing->setText(text);
}

void Plot::setThemeColours()
{
    const Palette& p = Theme::palette();
    m_plot->setBackground(p.sheet);
    for (QCPAxis* axis : {m_plot->xAxis, m_plot->yAxis}) {
        axis->setBasePen(QPen(p.ink, 1));
        axis->setTickPen(Qt::NoPen);
        axis->setSubTickPen(Qt::NoPen);
        axis->setTickLabelColor(p.ink);
        axis->setLabelColor(p.faint);
        axis->setTickLabelFont(Theme::figures(Theme::small_px));
        axis->setLabelFont(Theme::words(Theme::small_px));
        axis->grid()->setPen(QPen(p.rule, 1));
        axis->grid()->setZeroLinePen(QPen(axis == m_plot->yAxis ? p.faint : p.rule, 1));
    }
    m_line->setPen(QPen(p.ink, 1, Qt::DashLine));
    m_reading->setColor(p.ink);
    m_reading->setBrush(p.sheet);
    m_reading->setPen(QPen(p.rule, 1));
    m_reading->setFont(Theme::figures(Theme::small_px));
    m_nothing->setColor(p.faint);
    m_nothing->setFont(Theme::words(Theme::small_px));
}

void Plot::setCurves(std::vector<Curve> curves)
{
    m_curves = std::move(curves);
    m_plot->clearPlottables();
    m_words.clear();
    for (QCPAbstractItem* item : std::exchange(m_beside, {}))
        m_plot->removeItem(item);
    addGrid();
    std::size_t which = 0;
    for (const Curve& curve : m_curves) {
        if (m_drawing == Drawing::OddAndEven)
            addStems(curve, which, 1), addStems(curve, which++, 2);
        else if (hasStems())
            addStems(curve, which++);
        else
            addLine(curve);
        addMarks(curve);
    }
    setThemeColours();
    hideCursor();
    resetRanges();
}

void Plot::addLine(const Curve& curve)
{
    QCPGraph* graph = m_plot->addGraph();
    const bool dashed = curve.mark == 0 && !curve.thin && !curve.full;
    const bool strong = curve.full || (curve.mark > 0 && !curve.thin);
    graph->setPen(QPen(markColour(curve.mark), strong ? 1.8 : 1, dashed ? Qt::DashLine : Qt::SolidLine));
    QVector<double> x;
    QVector<double> y;
    for (const auto& [at, value] : curve.points) {
        x << at;
        y << value;
    }
    graph->setData(x, y, true);
    if (curve.mark > 0 && curve.points.size() <= told_points) // a single one is seen so, too
        graph->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDisc, markColour(curve.mark), 5));
}

/// Bars from the bottom, those of several curves side by side: all of them, or the odd (1) or the even (2)
/// ones.
void Plot::addStems(const Curve& curve, std::size_t which, int every_other)
{
    constexpr double stem_px = 4;
    const bool by_orders = m_drawing == Drawing::OddAndEven; // a bar may be nearly as wide as one
    const double width = 0.8 / static_cast<double>(m_curves.size());
    auto* bars = new QCPBars(m_plot->xAxis, m_plot->yAxis);
    if (by_orders) {
        bars->setWidth(width * 0.8);
    } else {
        bars->setWidthType(QCPBars::wtAbsolute);
        bars->setWidth(m_curves.size() > 2 ? stem_px - 1 : stem_px);
        bars->setBarsGroup(m_stems);
    }
    bars->setPen(Qt::NoPen);
    QColor colour = markColour(curve.mark);
    colour.setAlpha(every_other == 2 ? 110 : 255);
    bars->setBrush(colour);
    bars->setBaseValue(stem_floor);
    QVector<double> x;
    QVector<double> y;
    for (const auto& [at, value] : curve.points) {
        if (every_other != 0 && std::lround(at) % 2 != every_other % 2)
            continue;
        x << (by_orders ? at - 0.4 + width * (static_cast<double>(which) + 0.5) : at);
        y << value - stem_floor;
    }
    bars->setData(x, y, true);
}

void Plot::resetRanges()
{
    double low = 1e300;
    double high = -1e300;
    double first = 1e300;
    double last = -1e300;
    for (const Curve& curve : m_curves)
        for (const auto& [x, y] : curve.points) {
            first = std::min(first, x);
            last = std::max(last, x);
            low = std::min(low, y);
            high = std::max(high, y);
        }
    const bool any = first <= last;
    m_nothing->setVisible(!any);
    for (QCPAxis* axis : {m_plot->xAxis, m_plot->yAxis}) { // figures of no curve would be made up
        axis->setTickLabels(any);
        axis->grid()->setVisible(any);
    }
    if (m_y.always && any) {
        low = std::min(low, m_y.always->first);
        high = std::max(high, m_y.always->second);
    }
    if (any) {
        // The end labels stand in a margin to the right, where no curve runs; a single place has room round it.
        const double side = first == last                      ? std::max(1.0, 0.5 * std::abs(first))
                            : !hasStems()                      ? 0
                            : m_drawing == Drawing::OddAndEven ? 0.6
                                                               : 0.03 * (last - first);
        m_plot->xAxis->setRange(m_x.logarithmic ? std::max(first - side, 0.5 * first) : first - side,
                                last + side);
        const double missing = std::max(0.0, m_y.least_span - (high - low)) / 2;
        const double air = 0.06 * std::max(high - low, m_y.least_span);
        m_plot->yAxis->setRange(low - missing - air, high + missing + air);
    }
    if (hasStems())
        m_plot->yAxis->setRangeLower(stem_floor);
    else
        labelEnds();
    m_plot->replot();
}

void Plot::labelEnds()
{
    for (QCPAbstractItem* end : std::exchange(m_ends, {}))
        m_plot->removeItem(end);
    std::vector<std::pair<double, const Curve*>> ends;
    for (const Curve& curve : m_curves)
        if (!curve.points.empty() && !curve.explained)
            ends.emplace_back(curve.points.back().second, &curve);
    std::ranges::sort(ends, {}, &std::pair<double, const Curve*>::first);
    // Where ends meet, their labels are moved apart: upwards, and back down where that would leave the plot.
    const double apart = m_plot->yAxis->range().size() * 14 / std::max(60, height() - 60);
    for (std::size_t i = 1; i < ends.size(); ++i)
        ends[i].first = std::max(ends[i].first, ends[i - 1].first + apart);
    double highest = m_plot->yAxis->range().upper;
    for (auto end = ends.rbegin(); end != ends.rend(); ++end, highest -= apart)
        highest = end->first = std::min(end->first, highest);
    for (const auto& [y, curve] : ends) {
        auto* end = new QCPItemText(m_plot);
        end->position->setTypeX(QCPItemPosition::ptAxisRectRatio);
        end->position->setTypeY(QCPItemPosition::ptPlotCoords);
        end->position->setCoords(end_at, y);
        const bool of_a_candidate = curve->mark > 0 && !curve->thin;
        if (of_a_candidate)
            m_ends.push_back(new EndShape(*m_plot, curve->mark, y));
        end->setPadding(QMargins(of_a_candidate ? end_shape_px + 5 : 0, 0, 0, 0));
        end->setPositionAlignment(Qt::AlignLeft | Qt::AlignVCenter);
        end->setFont(Theme::words(Theme::small_px, QFont::DemiBold));
        end->setText(QFontMetrics(end->font())
                         .elidedText(curve->label, Qt::ElideRight, end_label_px - 8 - end->padding().left()));
        end->setColor(markColour(curve->mark));
        end->setClipToAxisRect(false);
        m_ends.push_back(end);
    }
}

void Plot::resizeEvent(QResizeEvent* event)
{
    QWidget::resizeEvent(event);
    if (m_drawing == Drawing::Lines) { // how far apart labels must be depends on the height
        labelEnds();
        m_plot->replot(QCustomPlot::rpQueuedReplot);
    }
}

void Plot::copyData() const
{
    QString text = tr("curve\t%1 (%2)\t%3 (%4)\n").arg(m_x.name, m_x.unit, m_y.name, m_y.unit);
    for (const Curve& curve : m_curves)
        for (const auto& [x, y] : curve.guide ? decltype(curve.points)() : curve.points)
            text += QStringLiteral("%1\t%2\t%3\n").arg(curve.label).arg(x, 0, 'g', 8).arg(y, 0, 'g', 8);
    QGuiApplication::clipboard()->setText(text);
}

Result<void> Plot::saveAs(const std::filesystem::path& file) const
{
    if (file.extension() == ".svg")
        return exchange::writeText(file, curvesAsSvg(m_x, m_y, m_drawing, m_curves));
    if (file.extension() == ".csv")
        return exchange::writeText(file, curvesAsCsv(m_x, m_y, m_curves));
    QByteArray png;
    QBuffer buffer(&png);
    m_plot->toPixmap(width(), height(), finer).save(&buffer, "PNG");
    return exchange::writeText(file, png.toStdString());
}

void Plot::contextMenuEvent(QContextMenuEvent* event)
{
    QMenu* menu = menuFor(this);
    menu->addAction(tr("Copy the picture"), this,
                    [this] { QGuiApplication::clipboard()->setPixmap(m_plot->grab()); });
    menu->addAction(tr("Copy the data"), this, &Plot::copyData);
    menu->addAction(tr("Save as a file"), this, [this] {
        askToSave(this, tr("Save the plot"), QStringLiteral("plot.svg"),
                  tr("Drawing (*.svg);;Picture (*.png);;Data (*.csv)"), [this](const QString& file) {
                      emit told(savedOrWhy(saveAs(QFile::encodeName(file).toStdString()), file));
                  });
    });
    menu->popup(event->globalPos());
}

void Plot::keyPressEvent(QKeyEvent* event)
{
    const auto zoom = [this](double factor) {
        m_plot->xAxis->scaleRange(factor, m_cursor_text.isEmpty() ? m_plot->xAxis->range().center() : m_cursor);
        m_plot->replot();
    };
    if (event->matches(QKeySequence::Copy))
        QGuiApplication::clipboard()->setPixmap(m_plot->grab());
    else if (event->key() == Qt::Key_C && event->modifiers() == (Qt::ControlModifier | Qt::ShiftModifier))
        copyData();
    else if (event->key() == Qt::Key_Right || event->key() == Qt::Key_Left)
        setCursor(besideCursor(event->key() == Qt::Key_Right ? 1 : -1));
    else if (event->key() == Qt::Key_Plus)
        zoom(0.8);
    else if (event->key() == Qt::Key_Minus)
        zoom(1.25);
    else if (event->key() == Qt::Key_Home)
        resetRanges();
    else
        QWidget::keyPressEvent(event);
}

bool Plot::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() == QEvent::ContextMenu) { // the library's widget passes nothing on that a mouse does
        contextMenuEvent(static_cast<QContextMenuEvent*>(event));
        return true;
    }
    if (event->type() == QEvent::MouseMove)
        setCursor(m_plot->xAxis->pixelToCoord(static_cast<QMouseEvent*>(event)->position().x()));
    else if (event->type() == QEvent::Leave) {
        hideCursor();
        m_plot->replot(QCustomPlot::rpQueuedReplot);
    } else if (event->type() == QEvent::MouseButtonDblClick)
        resetRanges();
    else if (event->type() == QEvent::MouseButtonPress)
        setFocus();
    return QWidget::eventFilter(watched, event);
}

} // namespace hr::app
