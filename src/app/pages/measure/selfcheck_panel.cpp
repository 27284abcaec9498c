// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/measure/selfcheck_panel.h"

#include "widgets/basics.h"

#include <QVBoxLayout>
#include <algorithm>

namespace hr::app {

SelfcheckPanel::SelfcheckPanel(QWidget* parent) : QWidget(parent)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    m_result = paragraph(tr("Is the bench right? It can measure its own references, whose answers are known."),
                         "faint");
    column->addWidget(m_result);
    m_button = new Button(tr("Check the bench"));
    connect(m_button, &QPushButton::clicked, this, &SelfcheckPanel::start);
    column->addWidget(m_button, 0, Qt::AlignLeft);
}

SelfcheckPanel::~SelfcheckPanel()
{
    m_pool.waitForDone();
}

void SelfcheckPanel::start()
{
    m_button->setEnabled(false);
    m_result->setText(tr("measuring the references …"));
    m_pool.start([this] {
        const auto checks = bench::selfcheck();
        QMetaObject::invokeMethod(this, [this, checks] { show(checks); });
    });
}

void SelfcheckPanel::show(const std::vector<bench::Check>& checks)
{
    m_button->setEnabled(true);
    const auto failed = std::ranges::find_if(checks, [](const bench::Check& c) { return !c.pass(); });
    const auto passed = std::ranges::count_if(checks, &bench::Check::pass);
    setRole(m_result, failed == checks.end() ? "pass" : "fault");
    m_result->setText(
        failed == checks.end()
            ? tr("The bench is within its limits: %1 of %2 figures.").arg(passed).arg(checks.size())
            : tr("The bench is off: %1 of %2 reads %3 instead of %4.")
                  .arg(QString::fromStdString(failed->figure), QString::fromStdString(failed->reference))
                  .arg(failed->measured)
                  .arg(failed->known));
}

} // namespace hr::app
