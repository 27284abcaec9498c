// SPDX-License-Identifier: GPL-3.0-or-later
//
// LV2 bundles through lilv, inside the worker: one bundle is read and nothing else, because reading
// every installed bundle takes longer than most measurements.
#pragma once

#include "hosting/worker.h"

#include <lilv/lilv.h>
#include <memory>

namespace hr::hosting::inside {

struct FreeWorld {
    void operator()(LilvWorld* world) const { lilv_world_free(world); }
};
struct FreeNode {
    void operator()(LilvNode* node) const { lilv_node_free(node); }
};
struct FreeNodes {
    void operator()(LilvNodes* nodes) const { lilv_nodes_free(nodes); }
};
using World = std::unique_ptr<LilvWorld, FreeWorld>;
using Node = std::unique_ptr<LilvNode, FreeNode>;
using Nodes = std::unique_ptr<LilvNodes, FreeNodes>;

/// What each LV2 port is to us.
enum class PortRole {
    AudioIn,
    AudioOut,
    KeyIn,
    ControlIn,
    ControlOut,
    AtomIn,
    AtomOut,
    CvIn,
    CvOut,
    Unconnected
};

struct Lv2Port {
    PortRole role = PortRole::Unconnected;
    std::size_t parameter = 0; ///< for ControlIn: index into ProcessorInfo::parameters
    bool is_latency = false;
    std::size_t atom_bytes = 8192;
    bool takes_tempo = false; ///< a control that is the tempo, or a sequence in which it wants to be told
};

struct Lv2Description {
    processors::ProcessorInfo info;
    std::vector<Lv2Port> ports; ///< by port index
    std::vector<std::string> required_features, required_options;
};

Node uriNode(LilvWorld* world, const char* uri);

/// Whether a file can be read as Turtle; lilv itself passes over what it cannot read.
bool isTurtle(const std::filesystem::path& file);

/// A world with this bundle only; empty when the folder is not a readable bundle.
World openBundle(const std::filesystem::path& bundle);

/// The plug-in of this URI in `world`, or null.
const LilvPlugin* findPlugin(LilvWorld* world, const std::string& uri);

/// What it says of itself; a Fault where that makes no sense.
FaultOr<Lv2Description> describe(LilvWorld* world, const LilvPlugin* plugin);

/// Everything in the bundle; what cannot be hosted, such as instruments, is left out with its reason.
BundleContents describeAll(LilvWorld* world);

} // namespace hr::hosting::inside
