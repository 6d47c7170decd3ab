#pragma once
// Test classes are linked into few programs, and are still run one by one: `test_core test_fit`
// runs the class of tests/core/test_fit.cpp; further arguments go to Qt Test.

#include <QObject>
#include <memory>

namespace rapt::test {

/// Puts a test class down under the name of its file.
struct Registered {
    using Make = std::unique_ptr<QObject> (*)();
    Registered(const char* file, Make make);
};

/// Runs the class named by the first argument, or all; the exit status counts what failed.
int runTests(int argc, char** argv);

} // namespace rapt::test

#define RAPT_TEST(Class)                                                                           \
    static const rapt::test::Registered registered(                                                \
        __FILE__, []() -> std::unique_ptr<QObject> { return std::make_unique<Class>(); });
