# Every target of ours is built with these; a warning is an error.
function(ingot_warnings target)
  target_compile_options(${target} PRIVATE -Wall -Wextra -Wpedantic -Wconversion -Wshadow -Werror)
  if(CMAKE_CXX_COMPILER_ID STREQUAL GNU)
    # GCC 12 reports overlaps inside std::string's own operator+ that cannot happen (its bug 105651).
    target_compile_options(${target} PRIVATE -Wno-restrict)
  endif()
endfunction()
