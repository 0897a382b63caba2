/* What the two files of the library's AES need of the rest of it. */
#ifndef INNER
#define INNER
#include <stddef.h>
#include <stdint.h>
#define memcpy __builtin_memcpy
#define memset __builtin_memset
void br_aes_ct64_bitslice_Sbox(uint64_t *q);
void br_aes_ct64_ortho(uint64_t *q);
static inline void br_range_dec32le(uint32_t *words, size_t count, const void *bytes) { memcpy(words, bytes, count * 4); }
#endif
