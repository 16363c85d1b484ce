#pragma once

#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <sys/wait.h>

#include <array>
#include <cstdio>
#include <string>

#include "support/demo_copy.h"
#include "support/temporary_folder.h"

namespace pantry::test {

/// What `pantry` did.
struct Outcome {
    int exitCode = -1;
    std::string output;  ///< standard output, then standard error
};

/// The command line on the demo's databases and home folder.
class PantryProgram : public testing::Test {
protected:
    static void SetUpTestSuite() {
        folder_ = new TemporaryFolder;
        ASSERT_TRUE(copyDemo(folder_->path()));
    }
    static void TearDownTestSuite() { delete folder_; }

    static std::string path(const std::string& name) { return ((*folder_) / name).string(); }

    /// Runs pantry with shell words, on the demo's home folder.
    static Outcome pantry(const std::string& arguments, const std::string& input = "") {
        writeFile((*folder_) / "input.sql", input);
        const std::string command = "AGILE_PANTRY_HOME=" + path("home") + " " PANTRY_PROGRAM " " + arguments + " <" +
                                    path("input.sql") + " 2>" + path("errors.txt");
        FILE* pipe = ::popen(command.c_str(), "r");
        Outcome outcome;
        std::array<char, 4096> buffer{};
        while (const std::size_t n = std::fread(buffer.data(), 1, buffer.size(), pipe))
            outcome.output.append(buffer.data(), n);
        const int state = ::pclose(pipe);
        outcome.exitCode = WIFEXITED(state) ? WEXITSTATUS(state) : 128 + WTERMSIG(state);
        outcome.output += contentOf((*folder_) / "errors.txt");
        return outcome;
    }

    static inline TemporaryFolder* folder_ = nullptr;
};

}  // namespace pantry::test
