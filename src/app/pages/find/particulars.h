// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is known about the selected processor, in four parts, and the ways on.
#pragma once

#include "pages/find/find_services.h"
#include "widgets/basics.h"

class QStackedLayout;
class QVBoxLayout;

namespace hr::app {

class KinList;
class PresetList;
class Segments;
class WrittenEditor;

class Particulars : public Sheet {
    Q_OBJECT
public:
    explicit Particulars(const FindServices& services, QWidget* parent = nullptr);

    /// `id` in full; what is written, of all `selected`. The same again is left alone, unless something else
    /// may be known of them: `again`.
    void show(const QString& id, const QStringList& selected, bool again);
    const QString& shownId() const { return m_id; }
    void showPart(int part); ///< 0 about, 1 parameters, 2 presets, 3 kin

signals:
    void chosen(const QString& id); ///< another one

private:
    QWidget* makeAbout();
    QWidget* makeWays();
    static QWidget* scrolling(QVBoxLayout*& body);
    void fill();
    void fillPart();
    void fillAbout(const library::Entry& entry, const processors::ProcessorInfo& info);
    void fillEditor();
    void addText(const QString& text, const char* role = nullptr);
    void addFigure(const QString& name, const QString& value, const char* role = "figure");
    void addParameters(const processors::ProcessorInfo& info);
    void addCage(const library::Entry& entry);
    void addHelp(const library::Entry& entry, const processors::ProcessorInfo& info);
    void addPlacing(const library::Entry& entry);
    void addReadings();
    void addPages();
    void addQuarantine();
    QStringList inQuarantine() const;

    const FindServices m_services;
    QString m_id;
    QStringList m_selected;
    WrittenEditor* m_editor = nullptr;
    QVBoxLayout* m_head = nullptr;
    QVBoxLayout* m_about = nullptr;
    QVBoxLayout* m_parameters = nullptr;
    QVBoxLayout* m_body = nullptr; // the one that is being filled
    Segments* m_parts = nullptr;
    QStackedLayout* m_stack = nullptr;
    PresetList* m_presets = nullptr;
    KinList* m_kin = nullptr;
    QWidget* m_ways = nullptr;
};

} // namespace hr::app
