#pragma once
// How an SVG element is painted: attributes, style properties, style sheets, inheritance. Internal
// to the SVG reader.

#include "base/text.h"
#include "thread/stitch_list.h"

#include <map>
#include <memory>
#include <optional>
#include <pugixml.hpp>
#include <set>
#include <string>
#include <vector>

namespace rapt::svg {

/// `#rgb`, `#rrggbb`, `rgb(…)` with numbers or per cent, and the CSS colour names.
std::optional<Rgb> parseColour(std::string_view text);

/// A number or a percentage from 0 to 1, clamped; nothing for anything else.
std::optional<double> parseShare(std::string_view text);

/// A length with its unit in user units (1/96 inch); `em` and per cent are not read.
std::optional<double> parseLengthPx(std::string_view text);

/// Properties that painting depends on, as inherited so far.
struct Style {
    std::string fill = "black";
    std::string stroke = "none";
    std::string strokeWidth = "1";
    std::string fillRule = "nonzero";
    std::string cap = "butt";
    std::string dashes = "none";
    std::string colour = "black";
    double opacity = 1;    ///< of the element and all around it
    double ownOpacity = 1; ///< of the element alone
    double fillOpacity = 1, strokeOpacity = 1;
    bool visible = true;
    bool displayed = true; ///< not inherited upwards: a hidden group hides all in it
};

/// Rules of `<style>` elements with the selectors that drawing programs write: `.class`, `#id`,
/// `element`, and lists of them.
class Sheet {
public:
    /// Takes in a sheet; what is not understood is named.
    void add(const std::string& css, std::set<std::string>& unsupported);
    /// The style of an element within its parent's.
    Style apply(const pugi::xml_node& element, const Style& parent) const;

private:
    void applyRule(const std::string& selector, Style& style) const;
    using Declarations = std::vector<std::pair<std::string, std::string>>;
    /// By selector; a block that many selectors share is kept once.
    std::map<std::string, std::vector<std::shared_ptr<const Declarations>>> rules;
};

} // namespace rapt::svg
