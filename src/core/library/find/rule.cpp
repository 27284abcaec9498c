// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/find/rule.h"

#include "library/list_figures.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

namespace hr::library {

namespace {

template<class Enum>
std::optional<Enum> withWord(const QString& text, std::size_t count)
{
    for (std::size_t i = 0; i < count; ++i)
        if (word(static_cast<Enum>(i)) == text)
            return static_cast<Enum>(i);
    return std::nullopt;
}

/// Rules of earlier versions named figures by words of their own.
QString nowCalled(const QString& order)
{
    static const QHash<QString, QString> earlier{
        {QStringLiteral("distortion"), QStringLiteral("harmonics.thd_percent")},
        {QStringLiteral("cost"), QStringLiteral("cost.realtime_factor")},
        {QStringLiteral("latency"), QStringLiteral("cost.latency_found_samples")},
        {QStringLiteral("loudness shift"), QStringLiteral("loudness_shift.shift_lu")},
        {QStringLiteral("noise"), QStringLiteral("noise.idle_dbfs")}};
    return earlier.value(order, order);
}

} // namespace

std::vector<Order> allOrders()
{
    std::vector<Order> all;
    for (const Order::By by : {Order::Best, Order::Name, Order::Maker, Order::Kind, Order::Rating})
        all.push_back({by});
    for (const ListFigure& figure : listFigures())
        all.push_back({Order::Figure, figure.key()});
    return all;
}

QString key(const Order& order)
{
    constexpr std::array<const char*, 5> words{"best match", "name", "maker", "kind", "rating"};
    return order.by == Order::Figure ? order.figure : QString::fromLatin1(words[order.by]);
}

QString word(const Order& order)
{
    const int figure = order.by == Order::Figure ? listFigure(order.figure) : -1;
    return figure < 0 ? key(order)
                      : QString::fromStdString(listFigures()[static_cast<std::size_t>(figure)].info->name);
}

QString ruleText(const Query& asked)
{
    QJsonArray choices;
    for (const FacetChoice& choice : asked.choices) {
        QJsonObject one{{QStringLiteral("facet"), word(choice.facet)}, {QStringLiteral("value"), choice.value}};
        if (choice.negated)
            one.insert(QStringLiteral("not"), true);
        choices.append(one);
    }
    const QJsonObject rule{{QStringLiteral("text"), asked.text},
                           {QStringLiteral("choices"), choices},
                           {QStringLiteral("order"), key(asked.order)}};
    return QString::fromUtf8(QJsonDocument(rule).toJson(QJsonDocument::Compact));
}

std::optional<Query> queryFromRule(const QString& rule)
{
    const QJsonDocument document = QJsonDocument::fromJson(rule.toUtf8());
    if (!document.isObject())
        return std::nullopt;
    const QJsonObject object = document.object();
    Query asked;
    asked.text = object.value(QStringLiteral("text")).toString();
    for (const QJsonValue one : object.value(QStringLiteral("choices")).toArray())
        if (const auto facet = withWord<Facet>(one[QStringLiteral("facet")].toString(), facet_count))
            asked.choices.push_back(
                {*facet, one[QStringLiteral("value")].toString(), one[QStringLiteral("not")].toBool()});
    const QString order = nowCalled(object.value(QStringLiteral("order")).toString());
    for (const Order& one : allOrders())
        if (key(one) == order)
            asked.order = one;
    return asked;
}

QString inWords(const Query& asked)
{
    QStringList parts;
    if (!asked.text.trimmed().isEmpty())
        parts << QStringLiteral("“%1”").arg(asked.text.trimmed());
    for (const FacetChoice& choice : asked.choices)
        parts << (choice.negated ? QStringLiteral("not ") : QString()) + choice.value;
    return parts.isEmpty() ? QStringLiteral("everything") : parts.join(QStringLiteral(" · "));
}

} // namespace hr::library
