#include "registry.h"

#include <QApplication>

int main(int argc, char** argv) {
    const QApplication application(argc, argv);
    return rapt::test::runTests(argc, argv);
}
