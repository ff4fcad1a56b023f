/** A kernel in base64, and as it is with fused products where it has any (see fused.as.ts). */
export interface KernelBuilds {
  plain: string;
  fused: string | null;
}

// Compiled once a process: transforms and filters of many sizes come and go.
const compiled = new Map<string, WebAssembly.Module>();

/**
 * Instantiates a compiled kernel on the given memory, synchronously: kernels are a few
 * kilobytes, and an audio worklet cannot wait.
 */
export function instantiateKernel<Exports>(builds: KernelBuilds, memory: WebAssembly.Memory): Exports {
  const base64 = (canFuse() ? builds.fused : null) ?? builds.plain;
  const module = compiled.get(base64) ?? new WebAssembly.Module(bytesFromBase64(base64));
  compiled.set(base64, module);
  const instance = new WebAssembly.Instance(module, {
    env: {
      memory,
      abort: () => {
        throw new Error('A kernel was called outside its limits.');
      },
    },
  });
  return instance.exports as Exports;
}

// The smallest module with f64x2.relaxed_madd: (a: v128) => a a + a.
const FUSED_PRODUCT = Uint8Array.from([
  ...[0x00, 0x61, 0x73, 0x6d, 0x01, 0x00, 0x00, 0x00],
  ...[0x01, 0x06, 0x01, 0x60, 0x01, 0x7b, 0x01, 0x7b],
  ...[0x03, 0x02, 0x01, 0x00],
  ...[0x0a, 0x0d, 0x01, 0x0b, 0x00, 0x20, 0x00, 0x20, 0x00, 0x20, 0x00, 0xfd, 0x87, 0x02, 0x0b],
]);

/** Whether this engine takes kernels with fused products. Asked anew for each kernel: a start option decides it in some. */
export function canFuse(): boolean {
  return WebAssembly.validate(FUSED_PRODUCT);
}

const ALPHABET = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';

/** Plain base64 (RFC 4648, section 4): an audio worklet has no `atob`. */
function bytesFromBase64(text: string): Uint8Array<ArrayBuffer> {
  const length = text.length - (text.endsWith('==') ? 2 : text.endsWith('=') ? 1 : 0);
  const bytes = new Uint8Array(Math.floor((length * 3) / 4));
  let bits = 0;
  let held = 0;
  let at = 0;
  for (let i = 0; i < length; i++) {
    held = (held << 6) | ALPHABET.indexOf(text[i]);
    bits += 6;
    if (bits >= 8) {
      bits -= 8;
      bytes[at++] = (held >> bits) & 0xff;
    }
  }
  return bytes;
}
