// SPDX-License-Identifier: GPL-3.0-or-later
//
// One block of a page: words to write, or a table, plot or trial with what can be done to it.
#pragma once

#include <QWidget>
#include <nlohmann/json.hpp>

class QSvgWidget;
class QKeyEvent;
class QTextEdit;

namespace hr::app {

class PageBlock : public QWidget {
    Q_OBJECT
public:
    /// `part` as of exchange::resolveBlock().
    PageBlock(const nlohmann::ordered_json& part, bool frozen, QWidget* parent = nullptr);

    void show(const nlohmann::ordered_json& part, bool frozen);
    bool isText() const { return m_text != nullptr; }
    void writeHere(); ///< the caret into it

signals:
    void written(const QString& markdown);
    void chosen(); ///< what is inserted comes after it
    void freezeRequested(bool on);
    void moveRequested(int by);
    void removeRequested();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void makeText();
    void makeSheet();
    void fitText();
    bool pressed(const QKeyEvent& key);
    static int movesBy(const QKeyEvent& key); // 0: not at all

    QTextEdit* m_text = nullptr;
    class QLabel* m_heading = nullptr;
    class QLabel* m_body = nullptr;
    QSvgWidget* m_plot = nullptr;
    class Button* m_freeze = nullptr;
    bool m_frozen = false;
    bool m_filling = false;
};

} // namespace hr::app
