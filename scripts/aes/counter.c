/*
 * AES in counter mode as ZIP's AE-2 format counts: from one, the first octet of the block first. No engine offers that by its own AES, which counts from the other end.
 * The cipher is BearSSL's constant-time AES (aes_ct64, as Debian has its source). Key schedule, S-box, orthogonalisation and interleaving are its own, unchanged; S-box and
 * orthogonalisation are taken twice, the second time by pairs of 64-bit words, so that eight blocks go at a time. The rounds follow its aes_ct64_enc.c; where that moves bits about
 * by shifts and masks, they are moved here by shuffles of octets, which is what costs the least in WebAssembly. Made by build.sh.
 */
#include "aes_ct64.c"
#include <wasm_simd128.h>

typedef uint64_t pair __attribute__((ext_vector_type(2)));
#define uint64_t pair
#define br_aes_ct64_bitslice_Sbox sbox_of_pairs
#define br_aes_ct64_ortho ortho_of_pairs
/* The part of aes_ct64.c that makes sense of pairs, cut out by build.sh. */
#include "pairs.c"
#undef uint64_t
#undef br_aes_ct64_bitslice_Sbox
#undef br_aes_ct64_ortho

/* A state is eight words of one bit of every octet; in a word, sixteen bits are a row, four of them a column, one of those a block. */

static inline pair shuffled(v128_t octets) { return (pair)octets; }

/* Row r moves by r columns. The octets of rows two and three change places, which is two columns; then rows one and three move by one. */
static inline pair rows_shifted(pair word) {
    v128_t two = wasm_i8x16_shuffle((v128_t)word, (v128_t)word, 0, 1, 2, 3, 5, 4, 7, 6, 8, 9, 10, 11, 13, 12, 15, 14);
    v128_t one = wasm_v128_or(wasm_u16x8_shr(two, 4), wasm_i16x8_shl(two, 12));
    return shuffled(wasm_v128_bitselect(one, two, wasm_u64x2_const_splat(0xFFFF0000FFFF0000)));
}

/* Each row takes the place of the one before, and of the one two before. */
static inline pair next_row(pair word) { return shuffled(wasm_i8x16_shuffle((v128_t)word, (v128_t)word, 2, 3, 4, 5, 6, 7, 0, 1, 10, 11, 12, 13, 14, 15, 8, 9)); }
static inline pair row_after_next(pair word) { return shuffled(wasm_i8x16_shuffle((v128_t)word, (v128_t)word, 4, 5, 6, 7, 0, 1, 2, 3, 12, 13, 14, 15, 8, 9, 10, 11)); }

static inline void shift_rows(pair *q) {
    for (int i = 0; i < 8; i++) q[i] = rows_shifted(q[i]);
}

static inline void mix_columns(pair *q) {
    pair n[8], both[8];
    for (int i = 0; i < 8; i++) {
        n[i] = next_row(q[i]);
        both[i] = q[i] ^ n[i];
    }
    /* Doubling in the field: the highest bit comes back as bits 0, 1, 3 and 4. */
    for (int i = 0; i < 8; i++) {
        pair doubled = i == 0 ? both[7] : i == 1 || i == 3 || i == 4 ? both[i - 1] ^ both[7] : both[i - 1];
        q[i] = doubled ^ n[i] ^ row_after_next(both[i]);
    }
}

static inline void add_round_key(pair *q, const pair *key) {
    for (int i = 0; i < 8; i++) q[i] ^= key[i];
}

static inline void encrypt_pairs(unsigned rounds, const pair *keys, pair *q) {
    add_round_key(q, keys);
    for (unsigned round = 1; round < rounds; round++) {
        sbox_of_pairs(q);
        shift_rows(q);
        mix_columns(q);
        add_round_key(q, keys + round * 8);
    }
    sbox_of_pairs(q);
    shift_rows(q);
    add_round_key(q, keys + rounds * 8);
}

#define EXPORT(name) __attribute__((export_name(#name)))
#define ROOM (1 << 16)
static unsigned char key[32];
static unsigned char data[ROOM] __attribute__((aligned(16)));
static pair schedule[120];
static unsigned rounds;

EXPORT(key) unsigned char *key_at(void) { return key; }
EXPORT(data) unsigned char *data_at(void) { return data; }
EXPORT(room) unsigned room(void) { return ROOM; }

/* Takes the first `length` octets of the key's place: 16 or 32. */
EXPORT(begin) void begin(unsigned length) {
    uint64_t packed[30], expanded[120];
    rounds = br_aes_ct64_keysched(packed, key, length);
    br_aes_ct64_skey_expand(expanded, rounds, packed);
    for (unsigned at = 0; at < (rounds + 1) * 8; at++) schedule[at] = (pair)(expanded[at]);
}

/* Encrypts or decrypts in place, from the block that `counter` numbers. Octets beyond `length`, up to the next 128, are spoilt. */
EXPORT(run) void run(unsigned length, uint32_t counter) {
    for (unsigned at = 0; at < length; at += 128, counter += 8) {
        pair q[8];
        for (unsigned i = 0; i < 4; i++) {
            const uint32_t first[4] = { counter + i, 0, 0, 0 }, second[4] = { counter + 4 + i, 0, 0, 0 };
            uint64_t a, b, c, d;
            br_aes_ct64_interleave_in(&a, &b, first);
            br_aes_ct64_interleave_in(&c, &d, second);
            q[i] = (pair){ a, c };
            q[i + 4] = (pair){ b, d };
        }
        ortho_of_pairs(q);
        encrypt_pairs(rounds, schedule, q);
        ortho_of_pairs(q);
        uint32_t *words = (uint32_t *)(data + at);
        for (unsigned i = 0; i < 4; i++) {
            uint32_t stream[4];
            br_aes_ct64_interleave_out(stream, q[i].x, q[i + 4].x);
            for (unsigned k = 0; k < 4; k++) words[i * 4 + k] ^= stream[k];
            br_aes_ct64_interleave_out(stream, q[i].y, q[i + 4].y);
            for (unsigned k = 0; k < 4; k++) words[16 + i * 4 + k] ^= stream[k];
        }
    }
}
