import styled from 'styled-components';
import type { Inspection, Section } from '@pocket-twin/core/schema/inspection.ts';
import { verdictWords } from '@pocket-twin/core/lineup/words.ts';
import type { Tone } from '@pocket-twin/core/diagnose/catalogue/entry.ts';
import { VERDICTS } from '@pocket-twin/core/diagnose/catalogue/verdicts.ts';
import { framesIn, framesOfSeconds, type FrameSpan } from '@pocket-twin/core/time/spans.ts';

/** What each stretch of the clip is, over the ribbon. */
export function SectionBand({ inspection, view }: { inspection: Inspection; view: FrameSpan }) {
  const { sampleRate } = inspection.format;
  const length = framesIn(view);
  return (
    <Band>
      {inspection.sections.map((section) => {
        const { startFrame, endFrame } = framesOfSeconds(section, sampleRate);
        const from = Math.max(0, (startFrame - view.startFrame) / length);
        const to = Math.min(1, (endFrame - view.startFrame) / length);
        if (to <= from) return null;
        return (
          <Stretch
            key={section.startSeconds}
            $tone={toneOf(section, inspection)}
            style={{ left: `${from * 100}%`, width: `${(to - from) * 100}%` }}
          >
            {verdictWords(section.verdict, section.side)}
          </Stretch>
        );
      })}
    </Band>
  );
}

/** What is fine by itself is not where a person should look at the clip for what was found in it. */
function toneOf({ verdict }: Section, { sections, suggestion }: Inspection): Tone {
  const { tone } = VERDICTS[verdict];
  return tone === 'fine' && sections.length === 1 && suggestion.action === 'review' ? 'look' : tone;
}

const Band = styled.div`position: relative; height: 26px; border: 1px solid var(--line); border-radius: 10px 10px 0 0; overflow: hidden;`;
const Stretch = styled.div<{ $tone: Tone }>`
  position: absolute; top: 0; bottom: 0; padding: 3px 10px; font-size: 12px; font-weight: 600; white-space: nowrap; overflow: hidden;
  color: ${({ $tone }) => `var(--${$tone})`}; background: ${({ $tone }) => `var(--${$tone}-wash)`};
`;
