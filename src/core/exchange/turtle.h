// SPDX-License-Identifier: GPL-3.0-or-later
//
// Statements as Turtle (W3C Recommendation, 2014), written by serd.
//
//     TurtleWriter turtle({{"rdfs", "http://www.w3.org/2000/01/rdf-schema#"}});
//     turtle.text("#preset1", "rdfs:label", "Quay at dusk");
//     turtle.finish();                         // the whole document
#pragma once

#include <initializer_list>
#include <memory>
#include <string>
#include <utility>

using SerdWriter = struct SerdWriterImpl;
using SerdEnv = struct SerdEnvImpl;

namespace hr::exchange {

/// Subjects are relative or whole URIs, predicates and types are prefixed names. Text must be UTF-8; what is
/// not is written as U+FFFD.
class TurtleWriter {
public:
    explicit TurtleWriter(std::initializer_list<std::pair<const char*, const char*>> prefixes);
    ~TurtleWriter();

    void type(const std::string& subject, const std::string& name);
    void link(const std::string& subject, const std::string& predicate, const std::string& uri);
    void text(const std::string& subject, const std::string& predicate, const std::string& text);
    /// An object without a name: what it has follows, until end(). Its statements take an empty subject.
    void begin(const std::string& subject, const std::string& predicate);
    void end();
    void decimal(const std::string& subject, const std::string& predicate, double value);

    /// Nothing can be added after it.
    std::string finish();

private:
    struct Node;
    void add(const std::string& subject, const std::string& predicate, const Node& object);

    std::string m_out;
    SerdEnv* m_env;
    SerdWriter* m_writer;
    std::string m_blank; // the object under way; empty: none
    std::size_t m_blanks = 0;
};

} // namespace hr::exchange
