import { Refusal } from '@pocket-twin/core/schema/refusal.ts';

/**
 * What a person can be told of a disk that does not do what is asked of it; null where an error is another one.
 * @param name how the recording is called in sentences for people
 */
export function diskTrouble(error: unknown, name: string): Refusal | null {
  switch ((error as NodeJS.ErrnoException).code ?? '') {
    case 'ENOSPC':
    case 'EDQUOT':
      return new Refusal(
        'no-room',
        `There is no room on the disk to bring in ${name}. Free some and measure it again.`,
      );
    // The same may go well when a cable sits or a share is back.
    case 'EIO':
    case 'ESTALE':
    case 'ENXIO':
    case 'EHOSTDOWN':
      return new Refusal(
        'interrupted',
        `The disk that holds ${name} cannot read or write just now. Check the disk and try again.`,
      );
    case 'ENOENT':
      return new Refusal('not-found', `${name} is no longer there. Put it back and measure it again.`);
    default:
      return null;
  }
}
