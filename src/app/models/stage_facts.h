// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the catalogue says of the processors of stages, read once each until it says something else.
#pragma once

#include "chain/chain.h"
#include "models/processor_model.h"

#include <map>

namespace hr::app {

class StageFacts : public QObject {
    Q_OBJECT
public:
    struct Facts {
        library::Entry entry;
        processors::ProcessorInfo info;
        hosting::Location location;
    };

    StageFacts(library::Store& store, ProcessorModel& processors, QObject* parent = nullptr);

    /// Null: it is not installed. Until changed().
    const Facts* of(const std::string& processor) const;
    /// Name of a stage, or of what else a node is: "Leveller", "Sum".
    QString nameOf(const chain::Node& node) const;
    QString kindOf(const chain::Node& node) const; ///< as a sentence says it; empty: not installed
    /// Of the parameters of its processor; empty where it is not installed, or its settings are not its.
    std::vector<double> valuesOf(const chain::Node& stage) const;

    /// One of them as it stands; empty where there is none to be had.
    struct Standing {
        processors::ParameterInfo parameter;
        double value = 0;
    };
    std::optional<Standing> parameterOf(const chain::Node& stage, const std::string& key) const;
    /// Its parameter at this value; at its default nothing is noted, unless a preset stands below.
    void set(chain::Node& stage, const std::string& key, double value) const;
    /// As it stands on a return: nothing of its input passes by, as far as its parameters tell (fullyWet()).
    void makeFullyWet(chain::Node& stage) const;

signals:
    void changed();

private:
    library::Store& m_store;
    mutable std::map<std::string, std::optional<Facts>> m_known;
};

} // namespace hr::app
