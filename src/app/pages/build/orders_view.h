// SPDX-License-Identifier: GPL-3.0-or-later
//
// The orders of the chain's stages, those that differ most first; one of them is heard beside the others, or
// taken. And the order that is asked about most: an equaliser before or behind a compressor.
#pragma once

#include "pages/build/build_services.h"

#include <QWidget>

class QLabel;
class QTableWidget;

namespace hr::app {

class Button;

class OrdersView : public QWidget {
    Q_OBJECT
public:
    explicit OrdersView(const BuildServices& services, QWidget* parent = nullptr);

private:
    void reload();
    void fill(const audition::Orders& orders);
    std::optional<chain::EqualiserAndCompressor> question() const;
    QString answer() const; ///< to the question, in words; empty: not known
    /// The chain in the order that is chosen; empty: none is.
    std::optional<chain::Chain> chosen() const;
    QString numbersOf(const std::vector<std::string>& order) const;
    QString wordsOf(const std::vector<std::string>& order) const;
    QString nameOf(const std::string& stage) const;

    const BuildServices m_services;
    QLabel *m_told, *m_answer;
    QTableWidget* m_table;
    Button *m_compare, *m_hear, *m_take, *m_question;
    const audition::Orders* m_shown = nullptr;
};

} // namespace hr::app
