// SPDX-License-Identifier: GPL-3.0-or-later
//
// One that can be heard in a blind trial: its mark, or an X that may be either, and the key that plays it.
#pragma once

#include <QAbstractButton>

namespace hr::app {

class TrialCard : public QAbstractButton {
    Q_OBJECT
public:
    static constexpr int unknown = -1; ///< the mark of X

    explicit TrialCard(QWidget* parent = nullptr);

    void show(int mark, const QString& what, const QString& key);
    void setHeard(bool heard);
    QSize sizeHint() const override { return {200, 146}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    int m_mark = unknown;
    QString m_what, m_key;
    bool m_heard = false;
};

} // namespace hr::app
