#pragma once
// English plurals of counted sentences, without a file of translations.

#include <QRegularExpression>
#include <QTranslator>

namespace rapt::app {

/// `tr("%n {record|records}", nullptr, n)` is "1 record" and "2 records". Installed first, so that
/// a real translation goes before it.
class EnglishPlurals : public QTranslator {
public:
    using QTranslator::QTranslator;
    bool isEmpty() const override { return false; }
    QString translate(const char*, const char* source, const char*, int n) const override {
        if (n < 0) return {};
        static const QRegularExpression forms("\\{([^{}|]*)\\|([^{}|]*)\\}");
        return QString::fromUtf8(source).replace(forms, n == 1 ? "\\1" : "\\2");
    }
};

} // namespace rapt::app
