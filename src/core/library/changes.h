// SPDX-License-Identifier: GPL-3.0-or-later
//
// What has changed in the store, told after it is on disk, so that whatever shows it follows. Only of changes
// through this store: another connection's are seen by reading again.
#pragma once

#include <QObject>
#include <QStringList>

namespace hr::library {

class Changes : public QObject {
    Q_OBJECT
signals:
    /// A run was stored: of this processor, in this set-up (SetUp::key()).
    void measured(const QString& processor, const QString& set_up);
    /// What is written about these, or what they may do.
    void written(const QStringList& processors);
    void collectionsChanged();
    void presetsChanged(const QString& processor);
};

} // namespace hr::library
