// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/turtle.h"

#include <cmath>
#include <serd/serd.h>

namespace hr::exchange {

namespace {

const std::uint8_t* bytes(const std::string& text)
{
    return reinterpret_cast<const std::uint8_t*>(text.c_str());
}

constexpr auto rdf_type = "http://www.w3.org/1999/02/22-rdf-syntax-ns#type";
constexpr auto xsd_decimal = "http://www.w3.org/2001/XMLSchema#decimal";
constexpr unsigned decimal_digits = 9;

} // namespace

/// A node of serd with the text that it points to.
struct TurtleWriter::Node {
    SerdType type = SERD_URI;
    std::string text;
    std::string datatype = {};
    SerdStatementFlags flags = 0;

    SerdNode node() const { return serd_node_from_string(type, bytes(text)); }
};

TurtleWriter::TurtleWriter(std::initializer_list<std::pair<const char*, const char*>> prefixes)
    : m_env(serd_env_new(nullptr)),
      m_writer(serd_writer_new(
          SERD_TURTLE, static_cast<SerdStyle>(SERD_STYLE_ABBREVIATED | SERD_STYLE_CURIED), m_env, nullptr,
          [](const void* text, size_t length, void* out) -> size_t {
              static_cast<std::string*>(out)->append(static_cast<const char*>(text), length);
              return length;
          },
          &m_out))
{
    for (const auto& [prefix, uri] : prefixes) {
        const std::string name = prefix;
        const std::string whole = uri;
        const SerdNode name_node = serd_node_from_string(SERD_LITERAL, bytes(name));
        const SerdNode uri_node = serd_node_from_string(SERD_URI, bytes(whole));
        serd_env_set_prefix(m_env, &name_node, &uri_node);
        serd_writer_set_prefix(m_writer, &name_node, &uri_node);
    }
}

TurtleWriter::~TurtleWriter()
{
    serd_writer_free(m_writer);
    serd_env_free(m_env);
}

void TurtleWriter::add(const std::string& subject, const std::string& predicate, const Node& object)
{
    const bool in_blank = subject.empty();
    const std::string& about = in_blank ? m_blank : subject;
    const SerdNode s = serd_node_from_string(in_blank ? SERD_BLANK : SERD_URI, bytes(about));
    const SerdNode p = serd_node_from_string(predicate == rdf_type ? SERD_URI : SERD_CURIE, bytes(predicate));
    const SerdNode o = object.node();
    const SerdNode datatype =
        object.datatype.empty() ? SERD_NODE_NULL : serd_node_from_string(SERD_URI, bytes(object.datatype));
    const auto flags = object.flags | (in_blank ? static_cast<SerdStatementFlags>(SERD_ANON_CONT) : 0U);
    serd_writer_write_statement(m_writer, flags, nullptr, &s, &p, &o, &datatype, nullptr);
}

void TurtleWriter::type(const std::string& subject, const std::string& name)
{
    add(subject, rdf_type, {SERD_CURIE, name});
}

void TurtleWriter::link(const std::string& subject, const std::string& predicate, const std::string& uri)
{
    add(subject, predicate, {SERD_URI, uri});
}

void TurtleWriter::text(const std::string& subject, const std::string& predicate, const std::string& text)
{
    add(subject, predicate, {SERD_LITERAL, text});
}

void TurtleWriter::decimal(const std::string& subject, const std::string& predicate, double value)
{
    SerdNode number = serd_node_new_decimal(value, decimal_digits);
    add(subject, predicate, {SERD_LITERAL, reinterpret_cast<const char*>(number.buf), xsd_decimal});
    serd_node_free(&number);
}

void TurtleWriter::begin(const std::string& subject, const std::string& predicate)
{
    const std::string blank = "b" + std::to_string(++m_blanks);
    add(subject, predicate, {SERD_BLANK, blank, {}, SERD_ANON_O_BEGIN});
    m_blank = blank;
}

void TurtleWriter::end()
{
    const SerdNode blank = serd_node_from_string(SERD_BLANK, bytes(m_blank));
    serd_writer_end_anon(m_writer, &blank);
    m_blank.clear();
}

std::string TurtleWriter::finish()
{
    serd_writer_finish(m_writer);
    return std::move(m_out);
}

} // namespace hr::exchange
