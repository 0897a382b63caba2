#!/usr/bin/env bash
# Makes core/src/zip/counter-wasm.ts anew. Needs clang-14 and lld-14, and the unpacked source of Debian's package bearssl 0.6 as its argument. The same input gives the same bytes.
set -euo pipefail
here=$(cd "$(dirname "$0")" && pwd)
source=${1:?the unpacked source of bearssl}
work=$(mktemp -d)
cp "$source"/src/symcipher/aes_ct64.c "$here"/counter.c "$here"/inner.h "$work"
cd "$work"
# The first two functions: the S-box and the orthogonalisation.
awk '/^\/\* see inner.h \*\//{count++} count==1||count==2{print} count==3{exit}' aes_ct64.c > pairs.c
ln -s "$(command -v wasm-ld-14)" wasm-ld
PATH="$work:$PATH" clang-14 --target=wasm32 -O3 -msimd128 -mbulk-memory -nostdlib -ffreestanding -I. -Wl,--no-entry -Wl,--strip-all -fuse-ld=lld -o counter.wasm counter.c
{
  echo '/** AES in counter mode as ZIP counts, as WebAssembly: made by scripts/aes/build.sh, whose counter.c says of what. Licence of the cipher: scripts/aes/LICENSE.txt. */'
  echo "// SHA-256 of the module: $(sha256sum counter.wasm | cut -d' ' -f1)"
  echo "export const COUNTER_WASM = '$(base64 -w0 counter.wasm | tr '+/' '-_' | tr -d '=')';"
} > "$here/../../core/src/zip/counter-wasm.ts"
rm -r "$work"
