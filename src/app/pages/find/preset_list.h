// SPDX-License-Identifier: GPL-3.0-or-later
//
// The presets of one processor: its defaults first, then the maker's by bank, then the user's. Heard, kept as
// favourites, saved from what is heard, renamed, written to files and read from them.
#pragma once

#include "pages/find/find_services.h"

#include <QWidget>

class QLineEdit;
class QListWidget;
class QPushButton;

namespace hr::app {

class PresetList : public QWidget {
    Q_OBJECT
public:
    explicit PresetList(const FindServices& services, QWidget* parent = nullptr);

    void show(const processors::ProcessorInfo& info);

    /// By the ending: .json is ours, anything else an LV2 bundle.
    void exportTo(const QString& path);
    void importFrom(const QString& path);

private:
    void reload();
    void fill();
    const library::Preset* current() const;
    void openMenu();
    void save(const std::vector<processors::Setting>& settings, const std::string& state);
    void renameCurrent();
    void removeCurrent();
    void say(const Result<void>& result, const QString& done);

    const FindServices m_services;
    processors::ProcessorInfo m_info;
    std::vector<library::Preset> m_presets;
    QLineEdit* m_search = nullptr;
    QListWidget* m_list = nullptr;
    QPushButton* m_listen = nullptr;
    QPushButton* m_favourite = nullptr;
    QPushButton* m_more = nullptr;
};

} // namespace hr::app
