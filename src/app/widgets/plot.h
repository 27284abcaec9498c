// SPDX-License-Identifier: GPL-3.0-or-later
//
// A plot on paper: ink axes, labels at the lines' ends, a cursor that reads all curves at once.
// + and - zoom, arrow keys move the cursor, Home resets; Ctrl+C copies the picture, Ctrl+Shift+C the data. Its
// menu saves it as a file.
#pragma once

#include "signal/result.h"

#include <QWidget>
#include <filesystem>
#include <optional>
#include <vector>

class QCustomPlot;
class QCPBarsGroup;
class QCPItemStraightLine;
class QCPAbstractItem;
class QCPItemText;

namespace hr::app {

struct PlotMark {
    double x = 0, y = 0;
    QString text;
};

struct Curve {
    int mark = 1; ///< gives colour and letter; 0: a thin line of ink, to compare with
    QString label;
    std::vector<std::pair<double, double>> points; ///< x ascending
    std::vector<PlotMark> marks = {};              ///< places on it with a word each
    bool thin = false;                             ///< beside another of the same mark
    bool full = false;                             ///< of mark 0: all of what thin ones are parts of
    bool explained = false;                        ///< by the title of the plot: no label at its end
    bool guide = false;                            ///< drawn to compare with: neither read nor among the data

    /// Between its points, along a straight line on such an axis; no number outside.
    double valueAt(double x, bool logarithmic) const;
};

enum class Drawing {
    Lines,
    Stems,
    OddAndEven, ///< stems, those at even places pale
};

struct Axis {
    QString name; ///< "frequency"
    QString unit; ///< "Hz"
    bool logarithmic = false;
    double least_span = 0; ///< the plot never zooms its automatic range further in
    int digits = 2;        ///< of what the cursor reads
    std::optional<std::pair<double, double>> always = std::nullopt; ///< never less than from here to there
};

class Plot : public QWidget {
    Q_OBJECT
public:
    Plot(Axis x, Axis y, Drawing drawing = Drawing::Lines, QWidget* parent = nullptr);

    void setCurves(std::vector<Curve> curves);
    /// Lines across at these places of the x axis, each with its word at the top; before setCurves().
    void setGrid(std::vector<PlotMark> grid) { m_grid = std::move(grid); }
    /// What stands in it while there are no curves.
    void setNothing(const QString& text);
    /// Puts the cursor at x, or on the nearest stem, and shows what is read there.
    void setCursor(double x);
    /// "3.20 kHz  A −0.20 dB" for each curve; empty without a cursor.
    QString cursorText() const { return m_cursor_text; }
    void setThemeColours();
    /// By its ending: ".svg", ".csv", else a picture (".png"). A failure leaves the file that was there.
    Result<void> saveAs(const std::filesystem::path& file) const;

signals:
    void told(const QString& text); ///< where it was saved, or why it was not

protected:
    void contextMenuEvent(QContextMenuEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void resetRanges();
    void hideCursor();
    void addStems(const Curve& curve, std::size_t which, int every_other = 0);
    void addMarks(const Curve& curve);
    void addGrid();
    bool hasStems() const { return m_drawing != Drawing::Lines; }
    void addLine(const Curve& curve);
    void labelEnds();
    void placeWords();
    bool isOnALine(const QRect& there) const;
    QString readAt(double x) const;
    std::vector<double> stemPlaces() const;
    double nearestStem(double x) const;
    double besideCursor(int direction) const;
    void copyData() const;

    Axis m_x, m_y;
    Drawing m_drawing;
    std::vector<Curve> m_curves;
    QCustomPlot* m_plot;
    QCPBarsGroup* m_stems; // of all curves, side by side
    QCPItemStraightLine* m_line;
    QCPItemText* m_reading;
    QCPItemText* m_nothing; // said where there is no curve
    std::vector<PlotMark> m_grid;
    std::vector<QCPAbstractItem*> m_beside; // what stands beside marks and the grid
    std::vector<QCPItemText*> m_words;      // those of them that stand beside marks
    std::vector<QCPAbstractItem*> m_ends;   // labels at the ends of lines
    QString m_cursor_text;
    double m_cursor = 0;
};

/// "1.20 kHz", "63 Hz".
QString frequencyText(double hz);

} // namespace hr::app
