# Every target of ours is built with these; a warning is an error.
function(ingot_warnings target)
  target_compile_options(${target} PRIVATE -Wall -Wextra -Wpedantic -Wconversion -Wshadow -Werror)
  if(INGOT_SANITIZE)
    # Joined files by clang; what it calls shadowing there is two constants of two sources. GCC's build is the strict one.
    target_compile_options(${target} PRIVATE -Wno-error)
  endif()
  if(CMAKE_CXX_COMPILER_ID STREQUAL GNU)
    # GCC 12 reports overlaps and overruns inside std::string's and std::variant's own moves that cannot happen (its
    # bugs 105651, 107852); with precompiled headers it no longer sees that these are not ours. ASan watches the real ones.
    target_compile_options(${target} PRIVATE -Wno-restrict -Wno-array-bounds -Wno-stringop-overflow)
  endif()
endfunction()
