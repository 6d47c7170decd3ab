// Copy, cut and paste: between places, windows and jobs.

#include "app/window/clipboard.h"

#include "formats/job_file.h"
#include "job/clip.h"
#include "job/edit_lettering.h"
#include "picture/stitch_picture.h"

#include <QApplication>
#include <QBuffer>
#include <QClipboard>
#include <QImage>
#include <QMimeData>

namespace rapt::app {
namespace {

constexpr const char* piecesType = "application/x-rapt-thimble-pieces";
constexpr const char* svgType = "image/svg+xml";
constexpr double stepMm = 10; ///< between a piece and its copy in the same job

/// The words of what is lettered, for other programs.
QString wordsOf(const Job& clip) {
    QStringList words;
    for (const Piece& p : clip.pieces)
        if (const auto* content = std::get_if<LetteringContent>(&p.content))
            words << QString::fromStdString(content->lettering->text);
    return words.join('\n');
}

bool hasJob(const Job& job, const Job& clip) {
    return std::any_of(clip.pieces.begin(), clip.pieces.end(),
                       [&](const Piece& p) { return job.piece(p.id) != nullptr; });
}

} // namespace

Status copyPieces(const Session& session) {
    const Job clip = clipOf(session.job(), session.selection.ids());
    const auto bytes = packJob(clip);
    if (!bytes) return bytes.error();
    auto* held = new QMimeData;
    held->setData(piecesType, QByteArray::fromStdString(*bytes));
    constexpr std::size_t mostPieces = 300; // to be drawn at once
    if (clip.pieces.size() <= mostPieces)
        if (const auto svg = shapesSvg(clip))
            held->setData(svgType, QByteArray::fromStdString(*svg));
    if (const QString words = wordsOf(clip); !words.isEmpty()) held->setText(words);
    QApplication::clipboard()->setMimeData(held);
    return done();
}

QByteArray copiedDrawing() {
    const QMimeData* held = QApplication::clipboard()->mimeData();
    if (!held || held->hasUrls()) return {};
    if (held->hasFormat(svgType)) return held->data(svgType);
    const QString text = held->text().trimmed();
    if (text.startsWith("<svg") || (text.startsWith("<?xml") && text.contains("<svg")))
        return text.toUtf8();
    if (!held->hasImage()) return {};
    QByteArray png;
    QBuffer buffer(&png);
    qvariant_cast<QImage>(held->imageData()).save(&buffer, "PNG");
    return png;
}

Result<bool> pastePieces(Session& session) {
    const QMimeData* held = QApplication::clipboard()->mimeData();
    if (!held) return false;
    if (held->hasFormat(piecesType)) {
        const auto clip = unpackJob(held->data(piecesType).toStdString(), "what was copied");
        if (!clip) return clip.error();
        const Vec2 by = hasJob(session.job(), *clip) ? Vec2{stepMm, stepMm} : Vec2{};
        Pasting pasting = pastingOf(session.job(), *clip, by, "Paste");
        session.document.apply(pasting.edit);
        session.selection.chooseSingly(pasting.ids);
        return true;
    }
    const QString text = held->text().trimmed();
    if (text.isEmpty() || held->hasUrls() || held->hasImage() || text.startsWith('<')) return false;
    Pose pose;
    if (const auto field = session.field()) pose = {field->pose.x, field->pose.y};
    Piece piece = letteringPiece(session.newWords(text.toStdString()), pose);
    piece.id = unusedId(session.job(), piece.id);
    const std::string id = piece.id;
    Edit edit = addPiece(std::move(piece));
    edit.name = "Paste words";
    session.document.apply(edit);
    session.selection.chooseSingly({id});
    return true;
}

} // namespace rapt::app
