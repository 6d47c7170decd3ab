#pragma once
// One page of a stage: its controls in the readout, and what it shows in the middle of the window.

#include "app/kit/readout_parts.h"

namespace rapt::app {

/// Pages show the session's job as it is each time they are refreshed, and edit it only through its
/// document.
class Page : public QWidget {
    Q_OBJECT
public:
    explicit Page(Session& s, QWidget* parent = nullptr)
        : QWidget(parent), session(s), column(new QVBoxLayout(this)) {
        column->setContentsMargins(0, 0, 0, 0);
        column->setSpacing(6);
    }
    virtual void refresh() = 0;
    /// What stands in the middle while the page is looked at; null where the matter is the cloth.
    virtual QWidget* centre() const { return central; }

signals:
    /// Something could not be done; a title and why.
    void failed(const QString& title, const QString& reason);
    void centreChanged();

protected:
    /// The one selected piece, or null.
    const Piece* onePiece() const {
        return session.selection.ids().size() == 1 ? session.job().piece(session.selection.ids()[0])
                                                   : nullptr;
    }
    /// Applies an edit that names what could not be done instead.
    template<class T>
    void applyOrSay(const QString& title, const Result<T>& result) {
        if (result)
            session.document.apply(result->edit);
        else
            emit failed(title, QString::fromStdString(result.error().reason));
    }
    QPushButton* button(const QString& text, const char* name, std::function<void()> act) {
        auto* made = new QPushButton(text);
        made->setObjectName(name);
        connect(made, &QPushButton::clicked, this, [act = std::move(act)] { act(); });
        return made;
    }
    QHBoxLayout* sideBySide(std::initializer_list<QWidget*> widgets) {
        auto* layout = new QHBoxLayout;
        layout->setSpacing(6);
        for (QWidget* w : widgets) layout->addWidget(w, 1);
        return layout;
    }

    /// The middle as a column of parts, for pages whose matter is not the cloth. The window takes
    /// it out of the page.
    QVBoxLayout* makeCentre() {
        central = new QWidget(this);
        central->hide();
        auto* parts = new QVBoxLayout(central);
        parts->setContentsMargins(28, 22, 28, 22);
        parts->setSpacing(12);
        return parts;
    }

    Session& session;
    QVBoxLayout* column;
    QWidget* central = nullptr;
};

} // namespace rapt::app
