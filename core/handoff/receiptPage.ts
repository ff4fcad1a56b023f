import { repairName } from '../repair/plan/describe.ts';
import { exactWords } from '../repair/plan/exactWords.ts';
import { repairNote } from '../repair/plan/repairNote.ts';
import type { Receipt } from '../schema/receipt.ts';
import { sayDecibels } from '../signal/sayDecibels.ts';
import { sayTime } from '../time/sayTime.ts';
import type { ConformLine } from '../schema/handoff.ts';
import type { WrittenEdit } from '../edit/eventOutcome.ts';
import { xml } from './manifest.ts';
import { REASONS } from './conformReasons.ts';
import { editSection } from './receiptEdit.ts';
import { sketchSvg } from './sketchSvg.ts';

const DAY = new Intl.DateTimeFormat('en-GB', { dateStyle: 'long', timeStyle: 'short', timeZone: 'UTC' });

/** One recording of a handoff, as the page tells of it. */
export interface ReceiptEntry {
  file: string;
  /** null where it was left: then `left` says why. */
  receipt: Receipt | null;
  left: string | null;
  conform: ConformLine[];
}

/** One page for people, which opens anywhere: what was wrong, what was done, numbers before and after, and proof. */
export function receiptPage(
  title: string,
  createdAt: string,
  entries: readonly ReceiptEntry[],
  edits: readonly WrittenEdit[] = [],
): string {
  const written = entries.filter(({ receipt }) => receipt !== null).length;
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${xml(title)}</title>
<style>
:root { color-scheme: light dark; --ink: #17161c; --soft: #5b5966; --line: #dcd6c8; --sheet: #fffdf6; --fine: #3d6b21; --look: #8a5a00; --left: #5a4fcf; --right: #d9772b; --mono: #2b7a78; }
@media (prefers-color-scheme: dark) { :root { --ink: #f1efe6; --soft: #a7a5b2; --line: #3a3844; --sheet: #17161c; --fine: #9ccf74; --look: #f0b95a; --left: #9a91ff; --right: #f2a15e; --mono: #5fc2bd; } }
body { font: 15px/1.5 system-ui, sans-serif; color: var(--ink); background: var(--sheet); max-width: 60rem; margin: 2rem auto; padding: 0 1rem; }
h1 { font-size: 1.5rem; margin-bottom: 0; } h2 { font-size: 1.1rem; margin: 0; overflow-wrap: anywhere; } p { margin: .3rem 0; } .soft { color: var(--soft); }
section { border-top: 1px solid var(--line); padding: 1rem 0; break-inside: avoid; }
table { border-collapse: collapse; margin: .6rem 0; font-size: .87rem; } th, td { text-align: left; padding: .15rem 1rem .15rem 0; border-bottom: 1px solid var(--line); font-weight: 400; overflow-wrap: anywhere; }
thead th { color: var(--soft); } svg { display: block; max-width: 100%; height: auto; } svg path { fill: none; stroke-width: 4; } .seam { stroke: var(--line); stroke-width: 1 !important; } .left { stroke: var(--left); } .right { stroke: var(--right); } .mono { stroke: var(--mono); } figure { margin: .6rem 0; } figcaption { color: var(--soft); font-size: .8rem; }
@media print { body { margin: 0; max-width: none; } }
 .equal { color: var(--fine); } .differs { color: var(--look); font-weight: 600; }
</style>
</head>
<body>
<h1>${xml(title)}</h1>
<p class="soft"><time datetime="${xml(createdAt)}">${DAY.format(new Date(createdAt))} UTC</time> · ${written} of ${entries.length} recordings written</p>
${[...edits.map(editSection), ...entries.map(sectionOf)].join('\n')}
</body>
</html>
`;
}

function sectionOf({ file, receipt, left, conform }: ReceiptEntry): string {
  if (!receipt)
    return `<section>\n<h2>${xml(file)}</h2>\n<p class="differs">${xml(left ?? 'It was left.')}</p>\n</section>`;
  const { before, repair, files } = receipt;
  const { sampleRate, durationSeconds } = before.format;
  return `<section>
<h2>${xml(file)}</h2>
<p>${xml(before.headline)} <span class="soft">${xml(before.detail)}</span></p>
<p><strong>${xml(repairName(repair))}.</strong> ${xml(repairNote(repair, before))}</p>
<p class="soft">${sayTime(durationSeconds, 1)} · ${sampleRate / 1000} kHz</p>
${ribbons(receipt)}
${levelsTable(receipt)}
${files.map((written) => `<p>${xml(written.name)}: ${xml(written.proof.differingFrames > 0 ? `DIFFERS in ${written.proof.differingFrames} frames` : exactWords(written, sampleRate))}; ${written.proof.comparedFrames} frames compared.</p>`).join('\n')}
${conformTable(conform)}
</section>`;
}

/** Before above after: what was mended is seen before a number is read. */
function ribbons({ sketch, files }: Receipt): string {
  const figure = (picture: Receipt['sketch'], caption: string): string =>
    picture ? `<figure><figcaption>${xml(caption)}</figcaption>${sketchSvg(picture, xml(caption))}</figure>` : '';
  return [
    figure(sketch, 'Before'),
    ...files.map(({ name, sketch: after }) => figure(after, files.length > 1 ? `After: ${name}` : 'After')),
  ].join('');
}

function levelsTable({ before, files }: Receipt): string {
  const row = (name: string, channels: Receipt['before']['channels']): string =>
    channels
      .map(
        ({ channel, loudnessLufs, truePeakDbtp }) =>
          `<tr><th scope="row">${name}, channel ${channel}</th><td>${sayDecibels(loudnessLufs, 'LUFS')}</td><td>${sayDecibels(truePeakDbtp, 'dBTP')}</td></tr>`,
      )
      .join('');
  return `<table><thead><tr><th></th><th scope="col">Loudness</th><th scope="col">True peak</th></tr></thead><tbody>${row('Before', before.channels)}${files.map(({ name, after }) => row(xml(name), after.channels)).join('')}</tbody></table>`;
}

function conformTable(lines: readonly ConformLine[]): string {
  if (lines.length === 0) return '';
  const rows = lines.map(
    (line) =>
      `<tr><th scope="row">${xml(line.what)}</th><td>${xml(String(line.old ?? 'none'))}</td><td>${xml(String(line.new ?? 'none'))}</td><td class="${line.equal || line.why ? 'equal' : 'differs'}">${line.equal ? 'equal' : line.why ? xml(REASONS[line.why]) : 'differs'}</td></tr>`,
  );
  return `<table><thead><tr><th scope="col">Old file against new</th><th scope="col">Old</th><th scope="col">New</th><th></th></tr></thead><tbody>${rows.join('')}</tbody></table>`;
}
