export const SLATE = { width: 320, height: 180, framesPerSecond: 25 };

// Digits five dots wide and seven high, one string a row, for a timecode that needs no font.
const DIGITS: Record<string, string[]> = {
  0: ['01110', '10001', '10011', '10101', '11001', '10001', '01110'],
  1: ['00100', '01100', '00100', '00100', '00100', '00100', '01110'],
  2: ['01110', '10001', '00001', '00110', '01000', '10000', '11111'],
  3: ['11110', '00001', '00001', '01110', '00001', '00001', '11110'],
  4: ['00010', '00110', '01010', '10010', '11111', '00010', '00010'],
  5: ['11111', '10000', '11110', '00001', '00001', '10001', '01110'],
  6: ['00110', '01000', '10000', '11110', '10001', '10001', '01110'],
  7: ['11111', '00001', '00010', '00100', '01000', '01000', '01000'],
  8: ['01110', '10001', '10001', '01110', '10001', '10001', '01110'],
  9: ['01110', '10001', '10001', '01111', '00001', '00010', '01100'],
  ':': ['00000', '00100', '00100', '00000', '00100', '00100', '00000'],
};
const DOT = 4;

/** The picture of a slate with running timecode, one frame after another, as 8-bit grey. */
export function* slateFrames(seconds: number, startSeconds: number): Generator<Uint8Array> {
  const count = Math.round(seconds * SLATE.framesPerSecond);
  for (let frame = 0; frame < count; frame++) yield slateFrame(timecode(startSeconds, frame), frame);
}

function slateFrame(text: string, frame: number): Uint8Array {
  const { width, height } = SLATE;
  const picture = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    const stripe = y < 36;
    for (let x = 0; x < width; x++) {
      const dark = stripe && Math.floor((x + y + frame) / 24) % 2 === 0;
      picture[y * width + x] = stripe ? (dark ? 30 : 220) : 60;
    }
  }
  const left = Math.floor((width - text.length * 6 * DOT) / 2);
  [...text].forEach((letter, i) => drawDigit(picture, DIGITS[letter], left + i * 6 * DOT, 90));
  return picture;
}

function drawDigit(picture: Uint8Array, rows: string[], left: number, top: number): void {
  rows.forEach((row, r) =>
    [...row].forEach((dot, c) => {
      if (dot === '0') return;
      for (let y = 0; y < DOT; y++) {
        const start = (top + r * DOT + y) * SLATE.width + left + c * DOT;
        picture.fill(235, start, start + DOT);
      }
    }),
  );
}

function timecode(startSeconds: number, frame: number): string {
  const total = startSeconds + Math.floor(frame / SLATE.framesPerSecond);
  const parts = [total / 3600, (total / 60) % 60, total % 60, frame % SLATE.framesPerSecond];
  return parts.map((part) => String(Math.floor(part)).padStart(2, '0')).join(':');
}
