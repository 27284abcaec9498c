// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/build/build_page.h"

#include "exchange/chain_file.h"
#include "theme/theme.h"
#include "widgets/basics.h"
#include "widgets/keep_menu.h"

#include <QFileDialog>
#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>

namespace hr::app {

BuildPage::BuildPage(const Services& services, QWidget* parent) : QWidget(parent), m_services(services)
{
    setObjectName(QStringLiteral("page"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(20, 16, 20, 12);
    column->setSpacing(12);
    column->addWidget(makeTop());
    m_wiring = paragraph(tr("This chain branches. It is heard, measured and saved as it is; its stages can be "
                            "switched and named "
                            "here, not moved."),
                         "faint");
    column->addWidget(m_wiring);
    auto* sheet = new Sheet;
    m_stack = new Stack(sheet);
    m_list = new QListWidget;
    m_list->setAccessibleName(tr("stages of the chain"));
    m_list->setSelectionMode(QAbstractItemView::NoSelection);
    m_list->setFocusPolicy(Qt::NoFocus);
    m_stack->addWidget(m_list);
    auto* empty =
        new EmptyState(tr("No stage yet"),
                       tr("A chain is stages in order. Choose processors on Find and send them here: by "
                          "Build in their menu, by Ctrl+B, or by dragging them onto this tab."),
                       tr("Go to Find"));
    connect(empty, &EmptyState::stepTaken, this, [this] { m_services.navigation.goTo(PageName::Find); });
    m_stack->addWidget(empty);
    column->addWidget(sheet, 1);
    connect(&m_services.draft, &ChainDraft::changed, this, &BuildPage::reload);
    reload();
}

QWidget* BuildPage::makeTop()
{
    auto* top = new QWidget;
    auto* row = new QHBoxLayout(top);
    row->setContentsMargins(0, 0, 0, 0);
    m_name = new QLineEdit;
    m_name->setAccessibleName(tr("name of the chain"));
    m_name->setFont(Theme::words(Theme::heading_px, QFont::DemiBold));
    connect(m_name, &QLineEdit::editingFinished, this, [this] {
        const std::string name = m_name->text().trimmed().toStdString();
        if (!name.empty() && name != m_services.draft.chain().name)
            m_services.draft.change([&](chain::Chain& chain) { chain.name = name; });
        else
            m_name->setText(QString::fromStdString(m_services.draft.chain().name));
    });
    row->addWidget(m_name, 1);
    const auto add = [&](Button* button, const std::function<void()>& work) {
        connect(button, &QPushButton::clicked, this, work);
        row->addWidget(button);
    };
    add((new Button(tr("Listen to the chain")))->main(), [this] {
        if (m_services.draft.chain().nodes.empty())
            return m_services.notices.say(tr("The chain has no stage yet: send one here from Find."));
        m_services.ways.listenTo(m_services.draft.chain());
    });
    add(new Button(tr("Open a chain")), [this] {
        const QString file = QFileDialog::getOpenFileName(this, tr("Open a chain"), {}, tr("Chains (*.json)"));
        if (file.isEmpty())
            return;
        auto read = exchange::readChain(QFile::encodeName(file).toStdString());
        if (!read)
            return m_services.notices.say(QString::fromStdString(read.error().text));
        m_services.draft.change(*read);
    });
    add(new Button(tr("Save the chain")), [this] {
        const QString file = QFileDialog::getSaveFileName(
            this, tr("Save the chain"),
            QString::fromStdString(m_services.draft.chain().name) + QStringLiteral(".json"),
            tr("Chains (*.json)"));
        if (!file.isEmpty())
            saveTo(file);
    });
    auto* keep = new Button(tr("Keep"));
    add(keep, [this, keep] {
        openKeepMenu(m_services.keeping, m_services.notices, keep,
                     [this] { return std::vector{itemOf(m_services.draft.chain())}; });
    });
    add(new Button(tr("Start over")), [this] {
        m_services.draft.change([](chain::Chain& chain) {
            chain.nodes.clear();
            chain.edges.clear();
        });
        m_services.notices.say(tr("The chain is empty. Ctrl+Z brings it back."));
    });
    return top;
}

QWidget* BuildPage::makeLine(std::size_t stage)
{
    const chain::Node& shown = m_services.draft.chain().nodes[stage];
    auto entry = m_services.store.catalogue.entry(QString::fromStdString(shown.processor));
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(12, 6, 12, 6);
    row->addWidget(label(QString::number(stage + 1), "figure"));
    auto* words = new QVBoxLayout;
    words->setSpacing(0);
    auto* name = new ElidedLabel(entry ? entry->title() : QString::fromStdString(shown.name));
    setRole(name, "strong");
    words->addWidget(name);
    words->addWidget(entry ? label(entry->kind, "faint") : label(tr("bypassed (not installed)"), "caution"));
    row->addLayout(words, 1);
    auto* purpose = new QLineEdit(QString::fromStdString(shown.purpose));
    purpose->setAccessibleName(tr("purpose of stage %1").arg(stage + 1));
    purpose->setPlaceholderText(tr("what it is there for"));
    connect(purpose, &QLineEdit::editingFinished, this, [this, stage, purpose] {
        const std::string text = purpose->text().toStdString();
        if (stage < m_services.draft.chain().nodes.size() &&
            m_services.draft.chain().nodes[stage].purpose != text)
            m_services.draft.change([&](chain::Chain& chain) { chain.nodes[stage].purpose = text; });
    });
    row->addWidget(purpose, 1);
    const auto add = [&](Button* button, const QString& accessible, const std::function<void()>& work) {
        button->setAccessibleName(accessible.arg(stage + 1));
        connect(button, &QPushButton::clicked, this,
                [this, work] { QMetaObject::invokeMethod(this, work, Qt::QueuedConnection); });
        row->addWidget(button);
    };
    auto* on = toggle(tr("on"));
    on->setChecked(shown.on);
    add(on, tr("stage %1 on"), [this, stage] {
        m_services.draft.change([&](chain::Chain& chain) { chain.nodes[stage].on = !chain.nodes[stage].on; });
    });
    add(new Button(QStringLiteral("↑")), tr("stage %1 earlier"), [this, stage] { move(stage, -1); });
    add(new Button(QStringLiteral("↓")), tr("stage %1 later"), [this, stage] { move(stage, 1); });
    add(new Button(QStringLiteral("✕")), tr("remove stage %1"), [this, stage] {
        m_services.draft.change([&](chain::Chain& chain) {
            chain.nodes.erase(chain.nodes.begin() + static_cast<std::ptrdiff_t>(stage));
        });
    });
    return line;
}

void BuildPage::move(std::size_t stage, int by)
{
    const std::size_t to = stage + static_cast<std::size_t>(by); // -1 wraps beyond the end
    if (to < m_services.draft.chain().nodes.size())
        m_services.draft.change([&](chain::Chain& chain) { std::swap(chain.nodes[stage], chain.nodes[to]); });
}

void BuildPage::reload()
{
    m_list->clear();
    m_name->setText(QString::fromStdString(m_services.draft.chain().name));
    // Branches and sends are kept as they are: here stages are switched and named, but not moved.
    m_wiring->setVisible(!m_services.draft.chain().isSeries());
    const std::size_t stages = m_services.draft.chain().nodes.size();
    for (std::size_t i = 0; i < stages; ++i) {
        auto* row = new QListWidgetItem(m_list);
        row->setSizeHint(QSize(0, 56));
        m_list->setItemWidget(row, makeLine(i));
    }
    m_stack->setCurrentIndex(stages == 0 ? 1 : 0);
}

void BuildPage::saveTo(const QString& file)
{
    auto written = exchange::writeChain(QFile::encodeName(file).toStdString(), m_services.draft.chain());
    m_services.notices.say(written ? tr("The chain is written to %1.").arg(file)
                                   : QString::fromStdString(written.error().text));
}

} // namespace hr::app
