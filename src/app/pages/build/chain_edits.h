// SPDX-License-Identifier: GPL-3.0-or-later
//
// Edits of the chain on Build at what is chosen in its picture, for the actions there.
#pragma once

#include "pages/build/build_services.h"
#include "widgets/chain_picture.h"

#include <set>

namespace hr::app {

class ChainEdits {
public:
    ChainEdits(const BuildServices& services, ChainPicture& picture) : m_services(services), m_picture(picture)
    {
    }

    std::string currentId() const; ///< empty: none is
    std::set<std::string> chosen() const;
    std::vector<std::string> chosenStages() const;
    /// A stage as it is counted; of what is no stage, what it is called.
    QString numberOf(const std::string& id) const;
    /// "1, 2, 4".
    QString numbersOf(const std::vector<std::string>& ids) const;
    std::optional<chain::Edge> edgeOf(std::optional<std::size_t> path) const;

    /// What is new in the chain afterwards is chosen; why it cannot be done is said.
    void edit(const std::function<chain::Edited(const chain::Chain&)>& how);
    /// The same with a stage that is searched for; `what` it is to be.
    void editWithFound(const QString& what,
                       const std::function<chain::Edited(const chain::Chain&, chain::Node)>& how);

private:
    const BuildServices& m_services;
    ChainPicture& m_picture;
};

} // namespace hr::app
