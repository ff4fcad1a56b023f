import { basename } from 'node:path';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { inspectFile } from '@pocket-twin/media/inspectFile.ts';
import { INSPECT_HELP } from './help.ts';
import { inspectionText } from './inspectionText.ts';
import { EXIT } from './main.ts';
import { progressBar } from './progress.ts';
import { readWords } from './words.ts';

export async function inspectCommand(args: string[]): Promise<number> {
  const { values, positionals: files } = readWords(args, { json: { type: 'boolean' }, help: { type: 'boolean' } });
  if (values.help) {
    process.stdout.write(INSPECT_HELP);
    return EXIT.nothing;
  }
  if (files.length === 0) throw new Refusal('bad-request', 'Name the files to inspect. See --help.');
  let status: number = EXIT.nothing;
  for (const file of files) {
    const bar = progressBar(basename(file));
    try {
      const { inspection } = await inspectFile(file, { onProgress: ({ stage, share }) => { if (stage === 'measuring') bar.show(share); } });
      bar.done();
      process.stdout.write(values.json ? `${JSON.stringify({ file, error: null, ...inspection })}\n` : inspectionText(file, inspection));
      if (status === EXIT.nothing && somethingFound(inspection)) status = EXIT.found;
    } catch (error) {
      bar.done();
      if (!(error instanceof Refusal)) throw error;
      process.stdout.write(values.json ? `${JSON.stringify({ file, error: error.message })}\n` : `${file}\n  ${error.message}\n\n`);
      status = EXIT.off;
    }
  }
  return status;
}

function somethingFound(inspection: Inspection): boolean {
  return inspection.suggestion.action !== 'none' || inspection.findings.some(({ severity }) => severity !== 'note');
}
