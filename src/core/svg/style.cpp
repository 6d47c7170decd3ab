#include "svg/style.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstring>

namespace rapt::svg {
namespace {

void setProperty(Style& style, std::string_view name, std::string_view value) {
    const std::string v(trimmed(value));
    if (v.empty() || v == "inherit") return;
    if (name == "fill") style.fill = v;
    if (name == "stroke") style.stroke = v;
    if (name == "stroke-width") style.strokeWidth = v;
    if (name == "fill-rule") style.fillRule = v;
    if (name == "stroke-linecap") style.cap = v;
    if (name == "stroke-dasharray") style.dashes = v;
    if (name == "color") style.colour = v;
    if (name == "opacity") style.ownOpacity = parseShare(v).value_or(1);
    if (name == "fill-opacity") style.fillOpacity = parseShare(v).value_or(style.fillOpacity);
    if (name == "stroke-opacity") style.strokeOpacity = parseShare(v).value_or(style.strokeOpacity);
    if (name == "visibility") style.visible = v == "visible";
    if (name == "display" && v == "none") style.displayed = false;
}

template<class Visit>
void eachDeclaration(std::string_view block, Visit visit) {
    while (!block.empty()) {
        const std::size_t end = std::min(block.find(';'), block.size());
        const std::string_view one = block.substr(0, end);
        if (const std::size_t colon = one.find(':'); colon != std::string_view::npos)
            visit(trimmed(one.substr(0, colon)), trimmed(one.substr(colon + 1)));
        block.remove_prefix(std::min(block.size(), end + 1));
    }
}

bool isPlainSelector(std::string_view s) {
    return !s.empty() && s.find_first_of(" >+~[:*") == std::string_view::npos &&
           s.find('.', 1) == std::string_view::npos;
}

std::string withoutComments(std::string css) {
    for (std::size_t from = css.find("/*"); from != std::string::npos;
         from = css.find("/*", from)) {
        const std::size_t to = css.find("*/", from + 2);
        css.erase(from, to == std::string::npos ? to : to + 2 - from);
    }
    return css;
}

} // namespace

std::optional<double> parseShare(std::string_view text) {
    text = trimmed(text);
    double value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc() || !std::isfinite(value)) return std::nullopt;
    if (trimmed(text.substr(static_cast<std::size_t>(end - text.data()))) == "%") value /= 100;
    return std::clamp(value, 0.0, 1.0);
}

std::optional<double> parseLengthPx(std::string_view text) {
    text = trimmed(text);
    if (text.starts_with('+')) text.remove_prefix(1);
    double value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc()) return std::nullopt;
    const std::string_view unit = trimmed(text.substr(static_cast<std::size_t>(end - text.data())));
    struct Unit {
        std::string_view name;
        double px;
    };
    for (const Unit& u :
         {Unit{"", 1}, Unit{"px", 1}, Unit{"mm", 96 / 25.4}, Unit{"cm", 96 / 2.54}, Unit{"in", 96},
          Unit{"pt", 96 / 72.0}, Unit{"pc", 16}, Unit{"Q", 96 / 101.6}})
        if (unit == u.name) return value * u.px;
    return std::nullopt;
}

void Sheet::add(const std::string& text, std::set<std::string>& unsupported) {
    const std::string css = withoutComments(text);
    std::string_view rest = css;
    while (true) {
        const std::size_t open = rest.find('{');
        const std::size_t close = rest.find('}', open == std::string_view::npos ? 0 : open);
        if (open == std::string_view::npos || close == std::string_view::npos) return;
        std::string_view selectors = rest.substr(0, open);
        const std::string_view block = rest.substr(open + 1, close - open - 1);
        rest.remove_prefix(close + 1);
        auto declared = std::make_shared<Declarations>();
        eachDeclaration(block, [&](std::string_view name, std::string_view value) {
            declared->emplace_back(name, value);
        });
        while (!selectors.empty()) {
            const std::size_t end = std::min(selectors.find(','), selectors.size());
            const std::string_view selector = trimmed(selectors.substr(0, end));
            selectors.remove_prefix(std::min(selectors.size(), end + 1));
            if (!isPlainSelector(selector)) {
                unsupported.insert("style rule for '" + std::string(selector) + "'");
                continue;
            }
            auto& own = rules[std::string(selector)];
            if (own.empty() || own.back() != declared) own.push_back(declared);
        }
    }
}

void Sheet::applyRule(const std::string& selector, Style& style) const {
    const auto it = rules.find(selector);
    if (it == rules.end()) return;
    for (const auto& block : it->second)
        for (const auto& [name, value] : *block) setProperty(style, name, value);
}

Style Sheet::apply(const pugi::xml_node& element, const Style& parent) const {
    Style style = parent;
    style.ownOpacity = 1;
    // Presentation attributes weigh least, then sheets by their selectors, then the style
    // attribute.
    for (const pugi::xml_attribute& a : element.attributes())
        setProperty(style, a.name(), a.value());
    applyRule(element.name(), style);
    std::string_view classes = element.attribute("class").value();
    while (!(classes = trimmed(classes)).empty()) {
        const std::size_t end = std::min(classes.find_first_of(" \t\r\n"), classes.size());
        applyRule("." + std::string(classes.substr(0, end)), style);
        classes.remove_prefix(end);
    }
    if (*element.attribute("id").value())
        applyRule(std::string("#") + element.attribute("id").value(), style);
    eachDeclaration(element.attribute("style").value(),
                    [&](std::string_view n, std::string_view v) { setProperty(style, n, v); });
    style.opacity = parent.opacity * style.ownOpacity;
    return style;
}

} // namespace rapt::svg
