#include "run_tests.h"

#include <QCoreApplication>

int main(int argc, char** argv) {
    QCoreApplication application(argc, argv);
    return run_tests(argc, argv);
}
