// SPDX-License-Identifier: GPL-3.0-or-later
#include "theme/theme.h"

#include <QApplication>
#include <memory>

namespace hr::test {

std::unique_ptr<QCoreApplication> makeApplication(int& argc, char** argv)
{
    auto application = std::make_unique<QApplication>(argc, argv);
    app::Theme::apply(*application, app::ThemeName::Paper);
    return application;
}

} // namespace hr::test
