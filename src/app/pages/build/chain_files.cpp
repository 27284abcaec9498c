// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/build/chain_files.h"

#include "exchange/chain_file.h"
#include "pages/keep/keep_menu.h"
#include "widgets/ask_file.h"
#include "widgets/basics.h"
#include "widgets/chain_print.h"
#include "widgets/name_popup.h"

#include <QFile>
#include <QPushButton>
#include <algorithm>

namespace hr::app {

ChainFiles::ChainFiles(const BuildServices& services, const ChainPicture& picture, QWidget* place)
    : QObject(place), m_services(services), m_picture(picture), m_place(place)
{
    declare();
}

void ChainFiles::add(const char* id, const QString& words, std::function<void()> run)
{
    m_services.actions.add(
        {QLatin1String("build.") + QLatin1String(id), words, tr("Chain on Build"), {}, std::move(run)});
}

void ChainFiles::declare()
{
    add("open", tr("open a chain from a file"), [this] { open(); });
    add("save.all", tr("save the chain to a file"), [this] { this->save(); });
    add("keep", tr("keep the chain in a collection"), [this] { keepUnder(m_place); });
    add("template", tr("save the chain as a template to begin from"), [this] { saveAsTemplate(); });
    add("print", tr("print the chain to a PDF"), [this] { print(); });
    add("new", tr("start over with an empty chain"), [this] { startOver(); });
}

void ChainFiles::openMenu(QWidget* at)
{
    QMenu* menu = menuFor(m_place);
    const auto view = [&](const char* id) {
        menu->addAction(m_services.actions.view(QLatin1String("build.") + QLatin1String(id), menu));
    };
    view("open");
    addTemplates(*menu->addMenu(tr("Begin from a template")));
    menu->addSeparator();
    for (const char* id : {"save.all", "template", "keep", "print"})
        view(id);
    menu->addSeparator();
    view("new");
    menu->popup(at->mapToGlobal(QPoint(0, at->height() + 2)));
}

void ChainFiles::open()
{
    askToOpen(m_place, tr("Open a chain"), tr("Chains (*.json)"), [this](const QString& file) {
        if (const auto read = exchange::readChain(QFile::encodeName(file).toStdString());
            m_services.notices.succeeded(read))
            m_services.draft.replaceBy(*read);
    });
}

void ChainFiles::save()
{
    askToSave(m_place, tr("Save the chain"),
              QString::fromStdString(m_services.draft.chain().name) + QStringLiteral(".json"),
              tr("Chains (*.json)"), [this](const QString& file) { saveTo(file); });
}

void ChainFiles::saveTo(const QString& file)
{
    m_services.notices.say(savedOrWhy(
        exchange::writeChain(QFile::encodeName(file).toStdString(), m_services.draft.chain()), file));
}

void ChainFiles::keepUnder(QWidget* at)
{
    openKeepMenu(m_services.keeping, m_services.notices, at,
                 [this] { return std::vector{itemOf(m_services.draft.chain())}; });
}

void ChainFiles::startOver()
{
    chain::Chain empty;
    empty.name = m_services.draft.chain().name;
    empty.next_node = m_services.draft.chain().next_node;
    m_services.draft.replaceBy(empty);
    m_services.notices.say(tr("The chain is empty. Ctrl+Z brings it back."));
}

void ChainFiles::print()
{
    const QString name = QString::fromStdString(m_services.draft.chain().name);
    askToSave(m_place, tr("Print the chain"), name + QStringLiteral(".pdf"), tr("PDF (*.pdf)"),
              [this, name](const QString& file) {
                  m_services.notices.say(savedOrWhy(
                      printChain(m_picture.chainLayout(), name, QFile::encodeName(file).toStdString()), file));
              });
}

// --- templates ---------------------------------------------------------------------------------------

std::filesystem::path ChainFiles::templatesFolder() const
{
    return m_services.store.database().directory() / "templates";
}

void ChainFiles::addTemplates(QMenu& menu)
{
    std::vector<std::filesystem::path> files;
    std::error_code failed;
    for (const auto& entry : std::filesystem::directory_iterator(templatesFolder(), failed))
        if (entry.path().extension() == ".json")
            files.push_back(entry.path());
    std::ranges::sort(files);
    for (const auto& file : files)
        menu.addAction(QString::fromStdString(file.stem().string()), this, [this, file] { beginFrom(file); });
    if (files.empty())
        menu.addAction(tr("None yet: save a chain as one"))->setEnabled(false);
}

/// Neutral: nothing is changed before a stage is turned on.
void ChainFiles::beginFrom(const std::filesystem::path& file)
{
    auto read = exchange::readChain(file);
    if (!m_services.notices.succeeded(read))
        return;
    for (chain::Node& node : read->nodes)
        if (node.kind == chain::NodeKind::Stage)
            node.on = false;
    m_services.draft.replaceBy(*read);
    m_services.notices.say(tr("All stages are off to begin with: Z turns on what is chosen."));
}

void ChainFiles::saveAsTemplate()
{
    askName(
        m_place, tr("name of the template"), QString::fromStdString(m_services.draft.chain().name),
        [this](const QString& name) {
            std::error_code failed;
            std::filesystem::create_directories(templatesFolder(), failed);
            QString plain = name;
            plain.replace(QLatin1Char('/'), QLatin1Char('-'));
            const auto file = templatesFolder() / (plain + QStringLiteral(".json")).toStdString();
            if (std::filesystem::exists(file, failed))
                return m_services.notices.say(
                    tr("There is a template \"%1\" already: give it another name.").arg(plain));
            m_services.notices.say(savedOrWhy(exchange::writeChain(file, m_services.draft.chain()),
                                              QString::fromStdString(file.string())));
        },
        m_place->mapToGlobal(QPoint(m_place->width() / 2, 60))); // near the menu it was chosen from
}

} // namespace hr::app
