// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/find/folders_sheet.h"

#include "actions/undoable.h"
#include "widgets/ask_file.h"
#include "widgets/basics.h"

#include <QCheckBox>
#include <QLineEdit>
#include <QScrollArea>
#include <QVBoxLayout>

namespace hr::app {

FoldersSheet::FoldersSheet(const FindServices& services, QWidget* parent)
    : QWidget(parent), m_services(services)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(18, 14, 18, 14);
    column->setSpacing(8);
    auto* top = new QHBoxLayout;
    top->addWidget(label(tr("Folders"), "heading"), 1);
    auto* back = new Button(tr("Back to the list"));
    connect(back, &QPushButton::clicked, this, &FoldersSheet::done);
    top->addWidget(back);
    column->addLayout(top);
    column->addWidget(
        paragraph(tr("A scan looks in these. Without a folder its processors are no longer listed; what you "
                     "wrote about them is kept and comes back with it. No file is ever changed."),
                  "faint"));

    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->viewport()->setAutoFillBackground(false);
    auto* body = new QWidget;
    body->setObjectName(QStringLiteral("scrolled"));
    m_lines = new QVBoxLayout(body);
    m_lines->setContentsMargins(0, 0, 0, 0);
    m_lines->setSpacing(2);
    scroll->setWidget(body);
    column->addWidget(scroll, 1);

    auto* adding = new QHBoxLayout;
    m_path = new QLineEdit;
    m_path->setAccessibleName(tr("a folder to add"));
    m_path->setPlaceholderText(tr("another folder with LV2 bundles or LADSPA libraries"));
    connect(m_path, &QLineEdit::returnPressed, this, [this] { add(m_path->text()); });
    adding->addWidget(m_path, 1);
    auto* choose = new Button(tr("Choose"));
    connect(choose, &QPushButton::clicked, this, [this] {
        askForFolder(this, tr("Look in a folder"), [this](const QString& chosen) { add(chosen); });
    });
    adding->addWidget(choose);
    auto* take = (new Button(tr("Add folder")))->main();
    connect(take, &QPushButton::clicked, this, [this] { add(m_path->text()); });
    adding->addWidget(take);
    column->addLayout(adding);
    m_result = paragraph({}, "faint");
    column->addWidget(m_result);
    connect(&m_services.scan, &ScanJob::finished, this, [this](const QString& summary) {
        m_result->setText(summary);
        reload();
    });
}

void FoldersSheet::reload()
{
    while (QLayoutItem* item = m_lines->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    auto folders = m_services.store.folders.all();
    if (!folders)
        return m_services.notices.say(QString::fromStdString(folders.error().text));
    QHash<QString, int> holds;
    for (const library::Entry& entry : m_services.processors.finder().entries())
        ++holds[entry.bundle.section(QLatin1Char('/'), 0, -2)];
    for (const library::Folder& folder : *folders)
        m_lines->addWidget(makeLine(folder, holds.value(folder.path)));
    m_lines->addStretch();
}

QWidget* FoldersSheet::makeLine(const library::Folder& folder, int holds)
{
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 3, 0, 3);
    auto* used = new QCheckBox(folder.path);
    used->setChecked(folder.used);
    // Queued, since the line goes with it.
    connect(
        used, &QCheckBox::clicked, this,
        [this, folder](bool on) { change(m_services.store.folders.setUsed(folder.path, on)); },
        Qt::QueuedConnection);
    row->addWidget(used, 1);
    row->addWidget(label(!folder.there ? tr("not there")
                         : holds == 0  ? QString()
                                       : tr("%n processors", nullptr, holds),
                         folder.there ? "figure" : "faint"));
    if (folder.own) {
        auto* remove = new Button(tr("Take away"));
        connect(remove, &QPushButton::clicked, this, [this, folder] {
            const auto take = [this, folder] { change(m_services.store.folders.remove(folder.path)); };
            const auto back = [this, folder] { change(m_services.store.folders.add(folder.path)); };
            QMetaObject::invokeMethod(
                this,
                [this, take, back] {
                    m_services.undo.push(new Undoable(tr("take a folder away"), take, back));
                },
                Qt::QueuedConnection);
        });
        row->addWidget(remove);
    }
    return line;
}

void FoldersSheet::add(const QString& path)
{
    auto added = m_services.store.folders.add(path);
    if (added)
        m_path->clear();
    change(added);
}

/// Says what was wrong, or looks again.
void FoldersSheet::change(const Result<void>& changed)
{
    if (!changed)
        return m_result->setText(QString::fromStdString(changed.error().text));
    m_result->clear();
    reload();
    m_services.scan.start();
}

} // namespace hr::app
