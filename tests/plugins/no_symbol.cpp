// SPDX-License-Identifier: GPL-3.0-or-later
//
// Needs a function that nothing offers.
extern "C" int a_symbol_that_nothing_offers();

extern "C" __attribute__((visibility("default"))) const void* lv2_descriptor(unsigned)
{
    return a_symbol_that_nothing_offers() ? nullptr : nullptr;
}
