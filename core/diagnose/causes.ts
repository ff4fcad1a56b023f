import type { PairReport } from '../schema/inspection.ts';

/** What probably happened, and how to record it right next time. null where there is nothing to explain. */
export interface Cause {
  cause: string | null;
  advice: string | null;
}

const say = (cause: string | null, advice: string | null = null): Cause => ({ cause, advice });

/** The likely cause of a pair's verdict. Likely, not proven: the sound alone can't tell who turned which switch. */
export function causeOf(pair: PairReport | null): Cause {
  switch (pair?.verdict) {
    case 'one-sided': {
      const input = pair.side === 'left' ? 1 : 2;
      return say(
        `One microphone on input ${input} of a two-input recorder set to stereo.`,
        `Set the recorder to mono, or send input ${input} to both sides, before the next take.`,
      );
    }
    case 'dual-mono':
      return say('A mono source recorded or exported as two channels.', 'A mono file says the same in half the space.');
    case 'silent':
      return say(
        'The input was not plugged in, switched off, or turned all the way down.',
        'Watch the meters while someone speaks before you record.',
      );
    case 'fake-stereo':
      return causeOfDisguise(pair);
    case 'two-mics':
      return say(
        'Two microphones recorded to one stereo file, one a channel.',
        'Record each microphone as its own mono track.',
      );
    case 'changing':
      return say(
        'The wiring or the settings changed while recording, or takes of different kinds were joined.',
        'Stop and start a new clip whenever a cable moves.',
      );
    case 'stereo':
    case undefined:
      return say(null);
  }
}

function causeOfDisguise({ disguise }: PairReport): Cause {
  if (disguise.includes('filter'))
    return say(
      'A widening effect, or an equaliser on one side of a mono source.',
      'Record the voice dry and mono; effects belong to the mix.',
    );
  if (disguise.includes('delay'))
    return say(
      'One side took a longer way: a wireless or camera input with its own delay, or a widening effect.',
      'Send one microphone to both sides inside the recorder, not over two paths.',
    );
  if (disguise.includes('polarity'))
    return say(
      'One side is wired or switched the wrong way round: a balanced cable into an unbalanced stereo input does this.',
      'Use a cable or adapter made for that input, and check the sum in mono.',
    );
  return say(
    'One microphone on both inputs, with their gains set differently.',
    'Link the two gain controls, or use one input.',
  );
}
