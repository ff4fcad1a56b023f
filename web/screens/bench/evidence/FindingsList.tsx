import { Button } from 'react-aria-components';
import styled from 'styled-components';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import { useAppDispatch } from '../../../state/store.ts';
import type { Player } from '../../../listen/player.ts';
import { framesOfSeconds, lengthSeconds, type SecondsSpan } from '@pocket-twin/core/time/spans.ts';
import { inside } from '../../../ribbon/view.ts';
import { sayTime } from '@pocket-twin/core/time/sayTime.ts';
import { viewChanged } from '../../../state/benchSlice.ts';

// A finding is shown with a little room around it.
const ROOM = 0.15;

/** What was noticed, each a press away from its place on the ribbon; then the likely cause and how to avoid it. */
export function FindingsList({ clip, player }: { clip: Clip; player: Player }) {
  const dispatch = useAppDispatch();
  const { findings, format, cause, advice } = clip.inspection!;
  const show = (place: SecondsSpan): void => {
    const { startFrame, endFrame } = framesOfSeconds(place, format.sampleRate);
    const room = (endFrame - startFrame) * ROOM;
    dispatch(
      viewChanged({
        clipId: clip.id,
        view: inside({ startFrame: startFrame - room, endFrame: endFrame + room }, format.frames),
      }),
    );
    player.seek(startFrame);
  };
  return (
    <Box>
      {findings.length > 0 && (
        <ul aria-label="Findings">
          {findings.map((finding) => (
            <li
              key={`${finding.code} ${finding.channels.join()} ${finding.startSeconds}`}
              data-severity={finding.severity}
            >
              <Mark aria-hidden="true" />
              <span>{finding.message}</span>
              {lengthSeconds(finding) < format.durationSeconds - 0.05 && (
                <Jump onPress={() => show(finding)} className="numeric">
                  {sayTime(finding.startSeconds, 1)} to {sayTime(finding.endSeconds, 1)}
                </Jump>
              )}
            </li>
          ))}
        </ul>
      )}
      {cause && (
        <p>
          <strong>Likely cause:</strong> {cause}{' '}
          {advice && (
            <>
              <strong>Next time:</strong> {advice}
            </>
          )}
        </p>
      )}
    </Box>
  );
}

const Box = styled.div`
  display: grid; gap: 8px; font-size: 13.5px; max-width: 92ch; p { color: var(--soft); } strong { color: var(--ink); font-weight: 600; }
  ul { display: grid; gap: 3px; } li { display: flex; gap: 8px; align-items: baseline; }
  [data-severity='fix'] { --mark: var(--fix); } [data-severity='look'] { --mark: var(--look); } [data-severity='note'] { --mark: var(--soft); }
`;
const Mark = styled.span`flex: none; width: 8px; height: 8px; border-radius: 2px; background: var(--mark); transform: translateY(-1px);`;
const Jump = styled(Button)`
  border: 0; background: none; padding: 0 2px; cursor: pointer; font-size: 12px; color: var(--left); text-decoration: underline; text-underline-offset: 3px; white-space: nowrap;
`;
