// SPDX-License-Identifier: GPL-3.0-or-later
//
// The look: a workshop notebook on warm paper, or the same by lamplight. Colours are named by role,
// so that the two themes differ in nothing else.
#pragma once

#include <QColor>
#include <QFont>
#include <QString>

class QApplication;

namespace hr::app {

struct Palette {
    QColor paper;  ///< the page
    QColor sheet;  ///< what lies on it
    QColor margin; ///< the strip of page tabs
    QColor rule;   ///< thin lines
    QColor ink;    ///< words, reference, curves' axes
    QColor faint;  ///< second ink
    QColor action; ///< buttons, focus, selection
    QColor on_action;
    QColor wash; ///< selected rows, the loop
    QColor mark; ///< found words
    QColor caution;
    QColor fault;
    QColor pass;
    QColor candidates[8]; ///< Okabe and Ito 2008, adjusted for this paper; always with letter and shape
};

enum class ThemeName { Paper, Lamplight };

class Theme {
public:
    static void apply(QApplication& application, ThemeName name);
    static const Palette& palette();
    static const Palette& paletteOf(ThemeName name); ///< for what is printed
    static ThemeName current();

    static QFont words(int pixels, int weight = QFont::Normal);
    static QFont figures(int pixels, int weight = QFont::Normal); ///< tabular

    static constexpr int small_px = 11, text_px = 13, heading_px = 16, title_px = 22;
};

/// A number with a real minus sign: "−3.2".
QString number(double value, int digits);
/// With an explicit plus: "+3.2".
QString signedNumber(double value, int digits);
/// The number of a reading. A distortion too small for its digits says so instead of pretending to be nothing.
QString figureText(double value, const QString& unit, int digits);

} // namespace hr::app
