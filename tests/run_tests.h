#pragma once

/// Runs the tests of a program as its arguments select them; the program's exit code. Catch2's own part, which takes
/// long to compile, is in run_tests.cpp alone: a program with something to set up first has its main() beside it.
int run_tests(int argc, char** argv);
