find_program(INGOT_CCACHE ccache)
if(INGOT_CCACHE)
  # Precompiled headers are cached as well when ccache may look past their defines and times.
  set(CMAKE_CXX_COMPILER_LAUNCHER ${CMAKE_COMMAND} -E env CCACHE_DEPEND=1 CCACHE_SLOPPINESS=pch_defines,time_macros ${INGOT_CCACHE})
  set(CMAKE_C_COMPILER_LAUNCHER ${INGOT_CCACHE})
  if(CMAKE_CXX_COMPILER_ID STREQUAL GNU)
    add_compile_options($<$<COMPILE_LANGUAGE:CXX>:-fpch-preprocess>)
  endif()
endif()
