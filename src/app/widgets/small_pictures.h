// SPDX-License-Identifier: GPL-3.0-or-later
//
// Response, in-out curve and harmonics of one processor, small enough for a row; hatched where not measured.
#pragma once

#include "library/pictures.h"
#include "theme/theme.h"

#include <QRect>

class QPainter;

namespace hr::app {

enum class SmallPicture { Response, InOut, Harmonics, Decay };
/// `heights` as of library/pictures.h; empty: hatched.
void paintPicture(QPainter& painter, const QRectF& frame, SmallPicture what, const QByteArray& heights,
                  const Palette& palette = Theme::palette());

/// `pictures` may be null: nothing is measured.
void paintPictures(QPainter& painter, const QRect& box, const library::Pictures* pictures);

} // namespace hr::app
