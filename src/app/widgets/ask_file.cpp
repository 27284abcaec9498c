// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/ask_file.h"

#include <QFileDialog>

namespace hr::app {

namespace {

QFileDialog* dialogFor(QWidget* owner, const QString& title, const QString& filter)
{
    auto* dialog = new QFileDialog(owner->window(), title, {}, filter);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    return dialog;
}

} // namespace

void askToOpen(QWidget* owner, const QString& title, const QString& filter, const TakeFile& take)
{
    QFileDialog* dialog = dialogFor(owner, title, filter);
    dialog->setFileMode(QFileDialog::ExistingFile);
    QObject::connect(dialog, &QFileDialog::fileSelected, owner, take);
    dialog->open();
}

void askToOpenSeveral(QWidget* owner, const QString& title, const QString& filter,
                      const std::function<void(const QStringList& files)>& take)
{
    QFileDialog* dialog = dialogFor(owner, title, filter);
    dialog->setFileMode(QFileDialog::ExistingFiles);
    QObject::connect(dialog, &QFileDialog::filesSelected, owner, take);
    dialog->open();
}

void askToSave(QWidget* owner, const QString& title, const QString& suggested, const QString& filter,
               const TakeFile& take)
{
    QFileDialog* dialog = dialogFor(owner, title, filter);
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->selectFile(suggested);
    QObject::connect(dialog, &QFileDialog::fileSelected, owner, take);
    dialog->open();
}

void askForFolder(QWidget* owner, const QString& title, const TakeFile& take)
{
    QFileDialog* dialog = dialogFor(owner, title, {});
    dialog->setFileMode(QFileDialog::Directory);
    dialog->setOption(QFileDialog::ShowDirsOnly);
    QObject::connect(dialog, &QFileDialog::fileSelected, owner, take);
    dialog->open();
}

QMenu* menuFor(QWidget* owner)
{
    auto* menu = new QMenu(owner->window());
    menu->setAttribute(Qt::WA_DeleteOnClose);
    return menu;
}

} // namespace hr::app
