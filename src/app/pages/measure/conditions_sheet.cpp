// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/measure/conditions_sheet.h"

#include "widgets/basics.h"
#include "widgets/sheet_popup.h"

#include <QComboBox>
#include <QFormLayout>
#include <QLineEdit>

namespace hr::app {

namespace {

constexpr int sheet_width = 420;

class ConditionsSheet : public SheetPopup {
public:
    ConditionsSheet(BenchConditions& conditions, QWidget* over)
        : SheetPopup(QObject::tr("conditions of the bench"), over), m_conditions(conditions)
    {
        setFixedWidth(sheet_width);
        auto* form = new QFormLayout(&sheet());
        form->setContentsMargins(sheetMargins());
        form->setVerticalSpacing(8);
        form->setFieldGrowthPolicy(QFormLayout::AllNonFixedFieldsGrow);
        form->addRow(label(QObject::tr("Conditions"), "title"));
        form->addRow(paragraph(QObject::tr("Everything is measured under these from now on. What was measured "
                                           "under others is kept, and shown once they are the same again."),
                               "faint"));
        for (const processors::ParameterInfo& range : bench::conditionRanges())
            addField(*form, range);
        m_key = new QComboBox;
        m_key->setAccessibleName(QObject::tr("key input"));
        m_key->addItems({QObject::tr("what the main input gets"), QObject::tr("silence")});
        form->addRow(QObject::tr("Key input"), m_key);
        m_programme = new QComboBox;
        m_programme->setAccessibleName(QObject::tr("programme"));
        m_programme->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        form->addRow(QObject::tr("Programme"), m_programme);
        auto* reset = new Button(QObject::tr("Back to the usual ones"));
        form->addRow(reset);
        connect(m_key, &QComboBox::activated, this, [this](int choice) {
            m_conditions.setKey(choice == 0 ? bench::KeyFeed::OwnInput : bench::KeyFeed::Silence);
        });
        connect(m_programme, &QComboBox::activated, this, [this](int choice) {
            if (choice == 0)
                m_conditions.takeOwnProgramme();
            else
                m_conditions.takeSection();
        });
        connect(reset, &QPushButton::clicked, &m_conditions, &BenchConditions::reset);
        connect(&m_conditions, &BenchConditions::changed, this, &ConditionsSheet::refresh);
        refresh();
    }

private:
    void addField(QFormLayout& form, const processors::ParameterInfo& range)
    {
        auto* field = new QLineEdit;
        const QString key = QString::fromStdString(range.key);
        const QString name =
            QObject::tr("%1, %2").arg(QString::fromStdString(range.name), QString::fromStdString(range.unit));
        field->setAccessibleName(name);
        field->setPlaceholderText(key == QStringLiteral("tempo") ? QObject::tr("none")
                                                                 : QObject::tr("each test's own"));
        form.addRow(name, field);
        connect(field, &QLineEdit::editingFinished, this, [this, field, key] {
            if (!field->isModified())
                return;
            const QString text = field->text();
            field->setModified(false);
            m_conditions.type(key, text);
            refresh(); // a refused one shows what holds
        });
        m_fields.emplace_back(key, field);
    }
    void refresh()
    {
        for (const auto& [key, field] : m_fields)
            if (!field->isModified()) // nobody is typing there
                field->setText(m_conditions.typed(key));
        m_key->setCurrentIndex(m_conditions.now().key == bench::KeyFeed::OwnInput ? 0 : 1);
        const auto& programme = m_conditions.now().programme;
        m_programme->clear();
        m_programme->addItems({QObject::tr("the bench's own"), QObject::tr("the section that plays now")});
        if (programme)
            m_programme->addItem(QString::fromStdString(programme->title));
        m_programme->setCurrentIndex(programme ? 2 : 0);
    }

    BenchConditions& m_conditions;
    std::vector<std::pair<QString, QLineEdit*>> m_fields;
    QComboBox* m_key = nullptr;
    QComboBox* m_programme = nullptr;
};

} // namespace

void openConditions(BenchConditions& conditions, QWidget* over)
{
    (new ConditionsSheet(conditions, over))->open();
}

} // namespace hr::app
