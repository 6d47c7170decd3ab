#pragma once
// A quote for the customer: what is sewn, how large, in which colours, at what price. Nothing of
// the shop's inner figures stands on it.

#include "estimate/price.h"
#include "sheets/template_pdf.h"

namespace rapt {

struct QuoteRequest {
    const Job& job;
    const StitchList& stitched; ///< the whole job, cloth frame
    const Work& work;           ///< of one item
    Machine machine;
    Fabric fabric;
    ShopRates shop;
    int quantity = 1;
    std::string date;           ///< ISO 8601, a day
    TemplateOptions printing{}; ///< paper and faces
};

/// Fails (cannotDo) if there is nothing to sew.
Result<TemplateDocument> makeQuote(const QuoteRequest& request);

} // namespace rapt
