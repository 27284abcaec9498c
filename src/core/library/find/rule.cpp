// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/find/rule.h"

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

} // namespace

QString word(Order order)
{
    constexpr std::array<const char*, order_count> words{"best match",     "name",       "maker", "kind",
                                                         "rating",         "distortion", "cost",  "latency",
                                                         "loudness shift", "noise"};
    return QString::fromLatin1(words[static_cast<std::size_t>(order)]);
}

QString ruleText(const Asked& asked)
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
                           {QStringLiteral("order"), word(asked.order)}};
    return QString::fromUtf8(QJsonDocument(rule).toJson(QJsonDocument::Compact));
}

std::optional<Asked> askedFromRule(const QString& rule)
{
    const QJsonDocument document = QJsonDocument::fromJson(rule.toUtf8());
    if (!document.isObject())
        return std::nullopt;
    const QJsonObject object = document.object();
    Asked asked;
    asked.text = object.value(QStringLiteral("text")).toString();
    for (const QJsonValue one : object.value(QStringLiteral("choices")).toArray())
        if (const auto facet = withWord<Facet>(one[QStringLiteral("facet")].toString(), facet_count))
            asked.choices.push_back(
                {*facet, one[QStringLiteral("value")].toString(), one[QStringLiteral("not")].toBool()});
    asked.order =
        withWord<Order>(object.value(QStringLiteral("order")).toString(), order_count).value_or(Order::Best);
    return asked;
}

QString inWords(const Asked& asked)
{
    QStringList parts;
    if (!asked.text.trimmed().isEmpty())
        parts << QStringLiteral("“%1”").arg(asked.text.trimmed());
    for (const FacetChoice& choice : asked.choices)
        parts << (choice.negated ? QStringLiteral("not ") : QString()) + choice.value;
    return parts.isEmpty() ? QStringLiteral("everything") : parts.join(QStringLiteral(" · "));
}

} // namespace hr::library
