// Compiled once a process: transforms and filters of many sizes come and go.
const compiled = new Map<string, WebAssembly.Module>();

/**
 * Instantiates a compiled kernel on the given memory, synchronously: kernels are a few
 * kilobytes, and an audio worklet cannot wait.
 */
export function instantiateKernel<Exports>(base64: string, memory: WebAssembly.Memory): Exports {
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
