// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the user writes about processors, in place: own name, favourite, rating, tags, a note. For several at
// once it shows what they have in common and changes only what is touched; every change can be undone.
#pragma once

#include "pages/find/find_services.h"

#include <QWidget>

class QLineEdit;
class QPlainTextEdit;
class QPushButton;

namespace hr::app {

/// Five stars; a click on the one that is set takes the rating away.
class Stars : public QWidget {
    Q_OBJECT
public:
    explicit Stars(QWidget* parent = nullptr);
    void setRating(int rating);
    int rating() const { return m_rating; }
    QSize sizeHint() const override;

signals:
    void rated(int rating);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    int m_rating = 0;
};

class WrittenEditor : public QWidget {
    Q_OBJECT
public:
    explicit WrittenEditor(const FindServices& services, QWidget* parent = nullptr);
    void show(const std::vector<library::Entry>& entries);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    QStringList ids() const;
    void tagsEdited();
    void noteEdited();

    const FindServices m_services;
    std::vector<library::Entry> m_entries;
    QStringList m_common_tags;
    QLineEdit* m_alias;
    QPushButton* m_favourite;
    Stars* m_stars;
    QLineEdit* m_tags;
    QPlainTextEdit* m_note;
};

} // namespace hr::app
