// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is known about the selected processor, and the ways on.
#pragma once

#include "frame/desk.h"
#include "widgets/basics.h"

class QVBoxLayout;

namespace hr::app {

class WrittenEditor;

class Particulars : public Sheet {
    Q_OBJECT
public:
    explicit Particulars(Desk& desk, QWidget* parent = nullptr);

    /// `id` in full; what is written, of all `selected`.
    void show(const QString& id, const QStringList& selected);
    const QString& shownId() const { return m_id; }

private:
    void fill();
    void fillEditor();
    void addText(const QString& text, const char* role = nullptr);
    void addFigure(const QString& name, const QString& value, const char* role = "figure");
    void addParameters(const processors::ProcessorInfo& info);
    void addReadings();
    void addQuarantine();
    QStringList inQuarantine() const;

    Desk& m_desk;
    QString m_id;
    QStringList m_selected;
    WrittenEditor* m_editor = nullptr;
    QVBoxLayout* m_body = nullptr;
    QWidget* m_ways = nullptr;
};

} // namespace hr::app
