#pragma once
// Words: what is lettered, in which face, how large, how it is spaced.

#include "app/compose/thread_choice.h"
#include "app/kit/page.h"
#include "app/letter/face_list.h"

#include <QPlainTextEdit>

namespace rapt::app {

class WordsPage : public Page {
    Q_OBJECT
public:
    explicit WordsPage(Session& session);
    void refresh() override;

signals:
    void lookUpAsked();

private:
    void buildText();
    void buildSize();
    void buildSpacing();
    void bind(LengthEdit* edit, const QString& name, double Lettering::*member);
    /// Changes the selected words, or how the next ones will look.
    void change(const QString& name, const std::function<void(Lettering&)>& change);
    const Lettering& shown() const;
    void takeText();
    void takeSize(double mm);
    /// What the asked height is in cap heights: 1, the x-height or the whole.
    double heightFactor() const;

    QPlainTextEdit* text;
    QPushButton* onCloth;
    FaceList* faces;
    QComboBox *measure, *alignment;
    LengthEdit *height, *tracking, *wordGap, *lineGap, *pull;
    QLabel *sizes, *warnings;
    ThreadChoice* thread;
};

} // namespace rapt::app
