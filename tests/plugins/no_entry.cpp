// SPDX-License-Identifier: GPL-3.0-or-later
// A library that loads and has no LV2 entry point.
int nothing_to_see_here();
int nothing_to_see_here()
{
    return 0;
}
