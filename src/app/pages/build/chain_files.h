// SPDX-License-Identifier: GPL-3.0-or-later
//
// Where the chain on Build comes from and goes to: files, templates, a collection, paper. Each is an action;
// the menu has them all.
#pragma once

#include "pages/build/build_services.h"
#include "widgets/chain_picture.h"

#include <QMenu>

namespace hr::app {

class ChainFiles : public QObject {
    Q_OBJECT
public:
    /// `place`: where their keys hold, and dialogs open.
    ChainFiles(const BuildServices& services, const ChainPicture& picture, QWidget* place);

    void openMenu(QWidget* at);
    void saveTo(const QString& file);
    void keepUnder(QWidget* at);

private:
    void declare();
    void add(const char* id, const QString& words, std::function<void()> run);
    void open();
    void save();
    void startOver();
    void print();
    std::filesystem::path templatesFolder() const;
    void addTemplates(QMenu& menu);
    void beginFrom(const std::filesystem::path& file);
    void saveAsTemplate();

    const BuildServices m_services;
    const ChainPicture& m_picture;
    QWidget* m_place;
};

} // namespace hr::app
