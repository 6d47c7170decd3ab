#include "registry.h"

#include <QCoreApplication>

int main(int argc, char** argv) {
    const QCoreApplication application(argc, argv);
    return rapt::test::runTests(argc, argv);
}
