import styled from 'styled-components';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import { verdictWords } from '@pocket-twin/core/lineup/words.ts';
import { verdictTone, type Tone } from '../../parts/verdictTone.ts';
import type { View } from '../../ribbon/view.ts';

/** What each stretch of the clip is, over the ribbon. */
export function SectionBand({ inspection, view }: { inspection: Inspection; view: View }) {
  const { sampleRate } = inspection.format;
  const length = view.end - view.start;
  return (
    <Band>
      {inspection.sections.map((section) => {
        const from = Math.max(0, (section.startSeconds * sampleRate - view.start) / length);
        const to = Math.min(1, (section.endSeconds * sampleRate - view.start) / length);
        if (to <= from) return null;
        return (
          <Stretch
            key={section.startSeconds}
            $tone={verdictTone(section.verdict)}
            style={{ left: `${from * 100}%`, width: `${(to - from) * 100}%` }}
          >
            {verdictWords(section.verdict, section.side)}
          </Stretch>
        );
      })}
    </Band>
  );
}

const Band = styled.div`position: relative; height: 26px; border: 1px solid var(--line); border-radius: 10px 10px 0 0; overflow: hidden;`;
const Stretch = styled.div<{ $tone: Tone }>`
  position: absolute; top: 0; bottom: 0; padding: 3px 10px; font-size: 12px; font-weight: 600; white-space: nowrap; overflow: hidden;
  color: ${({ $tone }) => `var(--${$tone})`}; background: ${({ $tone }) => `var(--${$tone}-wash)`};
`;
