#pragma once
// Sheets of locator cards and of a hoop's frame tags, to cut out.

#include "library/library.h"
#include "sheets/page_parts.h"

namespace rapt {

/// Locator cards with their hair lines and arrows, numbered from the first card's id. Gives pages.
int drawCards(PdfPages& pages, const PdfFonts& fonts, Sheet sheet, int count);

/// A template's own card, white round its tag so that a scan reads it.
void drawTemplateCard(PdfPages& pages, int id, Vec2 centre);

/// The tags of the hoops, each with where it is glued. Gives pages.
int drawFrameTags(PdfPages& pages, const PdfFonts& fonts, Sheet sheet,
                  const std::vector<Hoop>& hoops);

} // namespace rapt
