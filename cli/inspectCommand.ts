import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { inspectFile } from '@pocket-twin/media/read/inspectFile.ts';
import { EXIT } from './exit.ts';
import { INSPECT_HELP } from './help.ts';
import { inspectionText } from './inspectionText.ts';
import { eachFile } from './manyFiles.ts';
import { readWords } from './words.ts';

export async function inspectCommand(args: string[]): Promise<number> {
  const { values, positionals: files } = readWords(args, { json: { type: 'boolean' }, help: { type: 'boolean' } });
  if (values.help) {
    process.stdout.write(INSPECT_HELP);
    return EXIT.done;
  }
  if (files.length === 0) throw new Refusal('bad-request', 'Name the files to inspect. See --help.');
  let status: number = EXIT.done;
  const leftOut = await eachFile(
    files,
    async (path, { ownThread, onProgress }) => {
      const options = {
        onProgress: ({ stage, share }: { stage: string; share: number }) => {
          if (stage === 'measuring') onProgress(share);
        },
      };
      if (!ownThread) return (await inspectFile(path, options)).inspection;
      // Read where it is wanted: of one file there is no other thread.
      const { inThread } = await import('@pocket-twin/media/threads/inThread.ts');
      return (await inThread('look', { path }, options)).inspection;
    },
    (outcome) => {
      if ('error' in outcome) {
        const { file, error } = outcome;
        process.stdout.write(values.json ? `${JSON.stringify({ file, error })}\n` : `${file}\n  ${error}\n\n`);
        status = EXIT.off;
      } else {
        const { file, result } = outcome;
        process.stdout.write(
          values.json ? `${JSON.stringify({ file, error: null, ...result })}\n` : inspectionText(file, result),
        );
        if (status === EXIT.done && somethingFound(result)) status = EXIT.found;
      }
    },
  );
  if (leftOut > 0) throw new Refusal('cancelled', `Stopped: ${leftOut} of ${files.length} files were not looked at.`);
  return status;
}

function somethingFound(inspection: Inspection): boolean {
  return inspection.suggestion.action !== 'none' || inspection.findings.some(({ severity }) => severity !== 'note');
}
