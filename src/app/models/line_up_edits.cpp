// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/line_up_edits.h"

#include "actions/undoable.h"

#include <algorithm>
#include <cmath>

namespace hr::app {

namespace {

constexpr double hand_step_db = 0.05; // nearer to what the matching takes is what it takes

/// One figure of one contender, moved; further moves of the same join it.
template<class Figure>
class Moved : public QUndoCommand {
public:
    using Set = std::function<void(const Figure&)>;

    /// `what` tells one figure from another.
    Moved(const QString& words, std::pair<ContenderId, std::string> what, Figure before, Figure after, Set set)
        : QUndoCommand(words), m_what(std::move(what)), m_before(before), m_after(after), m_set(std::move(set))
    {
    }
    void redo() override { m_set(m_after); }
    void undo() override { m_set(m_before); }
    int id() const override { return 1; }
    bool mergeWith(const QUndoCommand* next) override
    {
        const auto* other = dynamic_cast<const Moved*>(next);
        if (!other || other->m_what != m_what)
            return false;
        m_after = other->m_after;
        return true;
    }

private:
    std::pair<ContenderId, std::string> m_what;
    Figure m_before, m_after;
    Set m_set;
};

// Beside the keys of parameters, which come after a colon:
const std::string the_gain = "gain_db";
const std::string the_amount = "amount_percent";
const std::string the_return = "return_db";
const std::string the_band = "band";

} // namespace

processors::ParameterInfo amountParameter()
{
    processors::ParameterInfo amount;
    amount.key = the_amount;
    amount.name = QObject::tr("Amount").toStdString();
    amount.unit = "%";
    amount.maximum = 100;
    amount.default_value = 100;
    amount.comment =
        QObject::tr("From the untreated source to all of it, lined up in time and matched.").toStdString();
    return amount;
}

LineUpEdits::LineUpEdits(LineUp& line_up, QUndoStack& undo, QObject* parent)
    : QObject(parent), m_line_up(line_up), m_undo(undo)
{
}

void LineUpEdits::setValue(ContenderId id, std::size_t parameter, double value, const QString& note)
{
    const Contender* contender = m_line_up.find(id);
    if (!contender || parameter >= contender->values.size())
        return;
    using Given = std::pair<double, QString>; // a value, and as which note, if any
    const std::string key = contender->info.parameters[parameter].key;
    const auto known = contender->notes.find(parameter);
    m_undo.push(new Moved<Given>(
        tr("set %1").arg(QString::fromStdString(contender->info.parameters[parameter].name)), {id, ':' + key},
        {contender->values[parameter], known == contender->notes.end() ? QString() : known->second},
        {value, note}, [this, id, key](const Given& to) {
            atParameter(id, key, [&](std::size_t at) {
                m_line_up.setValue(id, at, to.first);
                m_line_up.setNote(id, at, to.second);
            });
        }));
}

void LineUpEdits::setFollowsTempo(ContenderId id, bool on)
{
    if (const Contender* contender = m_line_up.find(id); contender && contender->follows_tempo != on)
        turn(tr("follow the tempo"), on, [this, id](bool to) { m_line_up.setFollowsTempo(id, to); });
}

void LineUpEdits::setByHand(ContenderId id, double gain_db)
{
    const Contender* contender = m_line_up.find(id);
    if (!contender)
        return;
    const bool as_matched = std::abs(gain_db - contender->matched_db) < hand_step_db;
    m_undo.push(new Moved<std::optional<double>>(
        tr("set the gain of %1").arg(contender->title), {id, the_gain}, contender->by_hand_db,
        as_matched ? std::nullopt : std::optional(gain_db),
        [this, id](const std::optional<double>& to) { m_line_up.setByHand(id, to); }));
}

void LineUpEdits::setAmount(ContenderId id, double percent)
{
    if (const Contender* contender = m_line_up.find(id))
        m_undo.push(new Moved<double>(tr("set the amount of %1").arg(contender->title), {id, the_amount},
                                      contender->amount_percent, percent,
                                      [this, id](double to) { m_line_up.setAmount(id, to); }));
}

void LineUpEdits::setReturn(ContenderId id, double level_db)
{
    if (const Contender* contender = m_line_up.find(id))
        m_undo.push(new Moved<double>(tr("set the return of %1").arg(contender->title), {id, the_return},
                                      contender->return_db, level_db,
                                      [this, id](double to) { m_line_up.setReturn(id, to); }));
}

void LineUpEdits::push(const QString& words, std::function<void()> redo, std::function<void()> undo)
{
    m_undo.push(new Undoable(words, std::move(redo), std::move(undo)));
}

void LineUpEdits::atParameter(ContenderId id, const std::string& key,
                              const std::function<void(std::size_t)>& set)
{
    const Contender* contender = m_line_up.find(id);
    const auto at = contender ? contender->info.parameterIndex(key) : std::nullopt;
    if (at && *at < contender->values.size())
        set(*at);
}

void LineUpEdits::turn(const QString& words, bool on, const std::function<void(bool)>& set)
{
    push(
        words, [set, on] { set(on); }, [set, on] { set(!on); });
}

void LineUpEdits::setOn(ContenderId id, bool on)
{
    if (const Contender* contender = m_line_up.find(id);
        contender && !contender->isUntreated() && contender->on != on)
        turn((on ? tr("switch %1 on") : tr("switch %1 off")).arg(contender->calledHere()), on,
             [this, id](bool to) { m_line_up.setOn(id, to); });
}

void LineUpEdits::setName(ContenderId id, const QString& name)
{
    const Contender* contender = m_line_up.find(id);
    const QString wanted = contender && name == contender->title ? QString() : name;
    if (contender && !contender->isUntreated() && contender->name != wanted)
        push(
            tr("name %1").arg(contender->title), [this, id, wanted] { m_line_up.setName(id, wanted); },
            [this, id, before = contender->name] { m_line_up.setName(id, before); });
}

void LineUpEdits::hold(ContenderId id, std::size_t parameter, bool on)
{
    if (const Contender* contender = m_line_up.find(id);
        contender && parameter < contender->values.size() && contender->held.contains(parameter) != on)
        turn(on ? tr("hold a parameter") : tr("let a parameter go"), on,
             [this, id, key = contender->info.parameters[parameter].key](bool to) {
                 atParameter(id, key, [&](std::size_t at) { m_line_up.hold(id, at, to); });
             });
}

void LineUpEdits::pin(ContenderId id, std::size_t parameter, bool on)
{
    if (const Contender* contender = m_line_up.find(id);
        contender && parameter < contender->values.size() && contender->pinned.contains(parameter) != on)
        turn(on ? tr("pin a parameter") : tr("unpin a parameter"), on,
             [this, id, key = contender->info.parameters[parameter].key](bool to) {
                 atParameter(id, key, [&](std::size_t at) {
                     m_line_up.pin(id, at, to);
                     m_line_up.rememberPins(id);
                 });
             });
}

void LineUpEdits::setLimits(ContenderId id, std::size_t parameter,
                            std::optional<std::pair<double, double>> limits)
{
    const Contender* contender = m_line_up.find(id);
    if (!contender || parameter >= contender->values.size())
        return;
    const auto known = contender->limits.find(parameter);
    const auto before = known == contender->limits.end() ? std::nullopt : std::optional(known->second);
    const auto set = [this, id, key = contender->info.parameters[parameter].key](const auto& to) {
        atParameter(id, key, [&](std::size_t at) { m_line_up.setLimits(id, at, to); });
    };
    if (before != limits)
        push(
            tr("limit random settings"), [set, limits] { set(limits); }, [set, before] { set(before); });
}

void LineUpEdits::setUse(LineUp::Use use)
{
    const LineUp::Use before = m_line_up.use();
    if (use != before && !m_line_up.isTried())
        push(
            use == LineUp::Use::Send ? tr("put the candidates on a send") : tr("make the candidates inserts"),
            [this, use] { m_line_up.setUse(use); }, [this, before] { m_line_up.setUse(before); });
}

void LineUpEdits::setRule(const audition::MatchRule& rule)
{
    const audition::MatchRule before = m_line_up.rule();
    if (rule == before || m_line_up.isTried())
        return;
    const auto set = [this](const audition::MatchRule& to) { m_line_up.setRule(to); };
    if (rule.basis == before.basis)
        m_undo.push(new Moved<audition::MatchRule>(tr("move the band"), {audition::no_contender, the_band},
                                                   before, rule, set));
    else
        push(
            tr("match by something else"), [set, rule] { set(rule); }, [set, before] { set(before); });
}

void LineUpEdits::makeReference(ContenderId id)
{
    const ContenderId before = m_line_up.reference();
    if (const Contender* contender = m_line_up.find(id); contender && id != before && !m_line_up.isTried())
        push(
            tr("make %1 the reference").arg(contender->title), [this, id] { m_line_up.setReference(id); },
            [this, before] { m_line_up.setReference(before); });
}

void LineUpEdits::remove(ContenderId id)
{
    const Contender* leaving = m_line_up.find(id);
    if (!leaving)
        return;
    struct Removed {
        int place = 0;
        bool reference = false;
        std::optional<Contender> contender;
    };
    const auto removed = std::make_shared<Removed>();
    push(
        tr("remove %1").arg(leaving->title),
        [this, id, removed] {
            *removed = {m_line_up.placeOf(id), m_line_up.reference() == id, std::nullopt};
            removed->contender = m_line_up.remove(id);
        },
        [this, id, removed] {
            if (!removed->contender)
                return;
            m_line_up.putBack(*removed->contender, removed->place);
            if (removed->reference)
                m_line_up.setReference(id);
        });
}

void LineUpEdits::duplicate(ContenderId id)
{
    const Contender* contender = m_line_up.find(id);
    if (!contender || contender->isUntreated())
        return;
    const auto added = std::make_shared<ContenderId>(audition::no_contender);
    const auto gone = std::make_shared<std::optional<Contender>>();
    push(
        tr("duplicate %1").arg(contender->title),
        [this, id, added, gone] {
            if (*gone)
                return m_line_up.putBack(**gone, m_line_up.placeOf(id) + 1);
            *added = m_line_up.addCopy(id);
        },
        [this, added, gone] { *gone = m_line_up.remove(*added); });
}

void LineUpEdits::move(ContenderId id, int places)
{
    const Contender* contender = m_line_up.find(id);
    const int from = m_line_up.placeOf(id);
    const int to = std::clamp(from + places, 1, static_cast<int>(m_line_up.candidates().size()));
    if (!contender || contender->isUntreated() || to == from)
        return;
    push(
        tr("move %1").arg(contender->title), [this, id, to] { m_line_up.move(id, to); },
        [this, id, from] { m_line_up.move(id, from); });
}

void LineUpEdits::moved(ContenderId id, int from)
{
    const int to = m_line_up.placeOf(id);
    if (to < 1 || to == from)
        return;
    m_line_up.move(id, from); // so that the step does it
    move(id, to - from);
}

} // namespace hr::app
