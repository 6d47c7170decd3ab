# Flags that every target of ours is built with; link rapt_flags to get them.
add_library(rapt_flags INTERFACE)
target_compile_options(rapt_flags INTERFACE -Wall -Wextra -Wpedantic -Wshadow -Werror)
target_link_options(rapt_flags INTERFACE -Wl,--as-needed)
if(RAPT_SANITIZE)
  add_compile_options(-fsanitize=address,undefined -fno-sanitize-recover=undefined
                      -fno-omit-frame-pointer -g1)
  add_link_options(-fsanitize=address,undefined)
endif()
if(RAPT_SANITIZE_THREAD)
  add_compile_options(-fsanitize=thread -g1)
  add_link_options(-fsanitize=thread)
endif()
if(RAPT_FUZZ)
  add_compile_options(-fsanitize=fuzzer-no-link,address,undefined,float-cast-overflow -O1 -g1)
  add_link_options(-fsanitize=address,undefined)
endif()

find_program(CCACHE ccache)
if(CCACHE)
  # What ccache asks for where headers are precompiled.
  set(CMAKE_CXX_COMPILER_LAUNCHER ${CMAKE_COMMAND} -E env
      CCACHE_SLOPPINESS=pch_defines,time_macros,include_file_mtime,include_file_ctime ${CCACHE})
  add_compile_options(-fpch-preprocess)
endif()
