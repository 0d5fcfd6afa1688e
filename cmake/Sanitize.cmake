if(INGOT_SANITIZE)
  add_compile_options(-fsanitize=address,undefined -fno-sanitize-recover=all -fno-omit-frame-pointer)
  add_link_options(-fsanitize=address,undefined)
endif()

# What a fuzzer feeds: counts the branches taken. -no-link: the fuzzer's own main comes with the executables of
# tests/fuzz alone.
function(ingot_fuzzed target)
  if(INGOT_FUZZ)
    target_compile_options(${target} PRIVATE -fsanitize=fuzzer-no-link)
  endif()
endfunction()

# The sanitized suite computes in these and keeps up with testers there; the window is quicker compiled than optimised.
function(ingot_optimised target)
  if(INGOT_SANITIZE)
    target_compile_options(${target} PRIVATE -O1)
  endif()
endfunction()
