// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/trial/abx.h"
#include "exchange/document.h"
#include "exchange/trial_file.h"
#include "support/fixtures.h"

#include <QFile>
#include <QTemporaryDir>

using namespace hr;

class tst_trial_file : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;

    std::filesystem::path path(const char* name) const
    {
        return m_folder.filePath(QLatin1String(name)).toStdString();
    }
    static QByteArray contents(const std::filesystem::path& file)
    {
        QFile in(file);
        return in.open(QIODevice::ReadOnly) ? in.readAll() : QByteArray();
    }
    static nlohmann::ordered_json trial()
    {
        audition::AbxSheet sheet(5, 3);
        while (!sheet.isOver())
            sheet.answer(sheet.answered() == 1 ? !sheet.xIsSecond() : sheet.xIsSecond());
        return {{"format", "honest-rack-trial"},
                {"first", {{"title", "The \"warm\" one, A"}}},
                {"second", {{"title", "Untreated source"}}},
                {"result", sheet.toJson()}};
    }

private slots:
    void wholeAsJson()
    {
        HR_VERIFY(exchange::writeTrial(path("t.json"), trial()));
        const auto read = exchange::readDocument(path("t.json"));
        HR_VERIFY(read);
        QVERIFY(*read == trial());
    }

    void answersAsATable()
    {
        HR_VERIFY(exchange::writeTrial(path("t.csv"), trial()));
        const auto lines = contents(path("t.csv")).split('\n');
        QCOMPARE(lines.size(), 7);
        QCOMPARE(lines[0], QByteArray("round,x,said,right\r"));
        QVERIFY(lines[2].startsWith("2,") && lines[2].endsWith(",0\r"));
        for (const int right : {1, 3, 4, 5})
            QVERIFY(lines[right].endsWith(",1\r"));
        bool quoted = false;
        for (const QByteArray& line : lines)
            quoted = quoted || line.contains("\"The \"\"warm\"\" one, A\"");
        QVERIFY(quoted);
    }

    void whatWasThereStaysWhereItCannotBeWritten()
    {
        const auto refused = exchange::writeTrial("/nowhere/at/all.csv", trial());
        QVERIFY(!refused);
        QCOMPARE(refused.error().blame, Blame::Machine);
        QVERIFY(refused.error().text.find("/nowhere/at/all.csv") != std::string::npos);
    }
};

HR_TEST(tst_trial_file)
#include "tst_trial_file.moc"
