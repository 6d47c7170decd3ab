#pragma once
// A PDF read back as a person's printer would.

#include "support.h"

#include "scan/image.h"

#include <QDir>
#include <QProcess>

namespace rapt::test {

struct Printed {
    QString text;
    std::vector<Image> pages;
};

/// Reads a PDF back as a person's printer would: words, and pages as pictures.
inline Printed printed(const std::string& pdf, int dpi) {
    QTemporaryDir dir;
    test::writeFile(dir.filePath("t.pdf"), QByteArray::fromStdString(pdf));
    QProcess words;
    words.start("pdftotext", {"-layout", dir.filePath("t.pdf"), "-"});
    words.waitForFinished();
    QProcess pictures;
    pictures.start("pdftoppm", {"-r", QString::number(dpi), "-png", dir.filePath("t.pdf"),
                                dir.filePath("page")});
    pictures.waitForFinished();
    Printed result{QString::fromUtf8(words.readAllStandardOutput()), {}};
    for (const QString& name : QDir(dir.path()).entryList({"page*.png"}, QDir::Files, QDir::Name))
        result.pages.push_back(*readImageFile(dir.filePath(name).toStdString()));
    return result;
}

/// Box in mm of the pixels of about one colour on a page.
inline Box inked(Image& page, Rgb colour, int dpi) {
    Box box;
    for (int y = 0; y < page.height; ++y)
        for (int x = 0; x < page.width; ++x) {
            const std::uint8_t* p = page.at(x, y);
            if (std::abs(p[0] - colour.r) + std::abs(p[1] - colour.g) + std::abs(p[2] - colour.b) >
                60)
                continue;
            box.add(Vec2{x * 25.4 / dpi, y * 25.4 / dpi});
            box.add(Vec2{(x + 1) * 25.4 / dpi, (y + 1) * 25.4 / dpi});
        }
    return box;
}

} // namespace rapt::test
