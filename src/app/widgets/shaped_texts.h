// SPDX-License-Identifier: GPL-3.0-or-later
//
// Lists draw the same names, makers and states again and again, and shaping them costs more than painting them.
#pragma once

#include <QPainter>

namespace hr::app {

/// One line in the painter's font and pen, at the left of the box and in the middle of its height, cut off with
/// an ellipsis where it is wider. It is shaped once for each font, text and width; the last few thousand are
/// kept.
void drawShaped(QPainter& painter, const QRect& box, const QString& text);
/// In pixels; remembered like the lines.
int shapedWidth(const QFont& font, const QString& text);

} // namespace hr::app
