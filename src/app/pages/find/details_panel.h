// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is known about the selected processor, in four parts, and the ways on.
#pragma once

#include "pages/find/find_services.h"
#include "widgets/basics.h"

#include <array>

class QStackedLayout;

namespace hr::app {

class AboutPart;
class FilledColumn;
class SimilarList;
class PresetList;
class Segments;
class WrittenEditor;

class DetailsPanel : public Sheet {
    Q_OBJECT
public:
    explicit DetailsPanel(const FindServices& services, QWidget* parent = nullptr);

    /// `id` in full; what is written, of all `selected`. The same again is left alone, unless something else
    /// may be known of them: `again`.
    void show(const QString& id, const QStringList& selected, bool again);
    const QString& shownId() const { return m_id; }
    void showPart(int part); ///< 0 about, 1 parameters, 2 presets, 3 similar ones

signals:
    void chosen(const QString& id); ///< another one

private:
    QWidget* makeAbout();
    QWidget* makeWays();
    void fill();
    void fillPart();
    void sayUnderTitle(const QStringList& lines);
    void fillParameters(const processors::ProcessorInfo& info);
    void fillEditor();

    const FindServices m_services;
    QString m_id;
    QStringList m_selected;
    WrittenEditor* m_editor = nullptr;
    QLabel* m_title = nullptr;
    std::array<QLabel*, 3> m_under_title{};
    AboutPart* m_about = nullptr;
    FilledColumn* m_parameters = nullptr;
    Segments* m_parts = nullptr;
    QStackedLayout* m_stack = nullptr;
    PresetList* m_presets = nullptr;
    SimilarList* m_kin = nullptr;
    QWidget* m_ways = nullptr;
};

} // namespace hr::app
