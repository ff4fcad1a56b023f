import styled from 'styled-components';
import { steadyLevels } from '@pocket-twin/core/repair/plan/steadyLevels.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Levels } from '@pocket-twin/core/schema/forecast.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { sayNumber } from '@pocket-twin/core/signal/sayDecibels.ts';
import { useLater } from '../../parts/useLater.ts';
import { useForecastQuery } from '../../state/api.ts';

/** Levels of the clip as it is and as the repair makes it. */
export function Numbers({ clip, repair }: { clip: Clip; repair: Repair }) {
  const before: Levels[] = clip.inspection!.channels;
  const forecast = useAfter(clip, repair);
  const after = forecast?.levels;
  const near = forecast?.isEstimate ? '≈ ' : '';
  const outputs = repair.outputs.flatMap(({ routes }) => routes);
  const names = nameRows(before.length, outputs.length);
  const rows = names.map((name, i) => ({ name, before: before[i], after: after?.[i], gone: i >= outputs.length }));
  const peak = (levels: Levels[] | undefined): number | null => {
    const peaks = (levels ?? []).map(({ truePeakDbtp }) => truePeakDbtp).filter((value) => value !== null);
    return peaks.length > 0 ? Math.max(...peaks) : null;
  };
  const stereoAfter = repair.outputs[0].routes.length === 2;
  return (
    <Table>
      <thead>
        <tr>
          <th>
            <Unit>Level</Unit>
          </th>
          <th>Before</th>
          <th>After</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.name}>
            <th scope="row">{row.name}, LUFS</th>
            <td>{row.before ? sayNumber(row.before.loudnessLufs) : '–'}</td>
            <td>{row.gone ? 'none' : row.after ? near + sayNumber(row.after.loudnessLufs) : '…'}</td>
          </tr>
        ))}
        {before.length === 2 && (
          <tr>
            <th scope="row">Balance, LU</th>
            <td>{balance(before)}</td>
            <td>{!after ? '…' : stereoAfter ? near + balance(after) : '–'}</td>
          </tr>
        )}
        <tr>
          <th scope="row">True peak, dBTP</th>
          <td>{sayNumber(peak(before))}</td>
          <td>{after ? near + sayNumber(peak(after)) : '…'}</td>
        </tr>
      </tbody>
    </Table>
  );
}

// While a knob is turned nothing is asked for; the whole of a long clip only once it is left.
const QUICK_AFTER_MS = 120;
const WHOLE_AFTER_MS = 1500;

interface After {
  levels: Levels[];
  isEstimate: boolean;
}

/** Channels at steady gains take their numbers along; any other plan is measured on the server: of a long clip an estimate first. */
function useAfter(clip: Clip, repair: Repair): After | undefined {
  const steady = steadyLevels(repair, clip.inspection!.channels);
  const quickly = useLater(repair, QUICK_AFTER_MS);
  const wholly = useLater(repair, WHOLE_AFTER_MS);
  const quick = useForecastQuery(
    { clipId: clip.id, repair: quickly, quick: true },
    { skip: steady !== null || quickly !== repair },
  ).currentData;
  const whole = useForecastQuery(
    { clipId: clip.id, repair: wholly, quick: false },
    { skip: steady !== null || wholly !== repair || !quick?.isEstimate },
  ).currentData;
  if (steady) return { levels: steady, isEstimate: false };
  const measured = whole ?? quick;
  return measured && { levels: measured.channels, isEstimate: measured.isEstimate };
}

function nameRows(before: number, after: number): string[] {
  const count = Math.max(before, after);
  if (count <= 2 && before === 2) return ['Left', 'Right'];
  if (count === 1) return ['Mono'];
  return Array.from({ length: Math.min(count, 8) }, (_, i) => `Channel ${i + 1}`);
}

function balance([left, right]: Levels[]): string {
  if (left.loudnessLufs === null || right.loudnessLufs === null)
    return left.loudnessLufs === right.loudnessLufs ? '–' : '∞';
  return sayNumber(left.loudnessLufs - right.loudnessLufs);
}

const Table = styled.table`
  width: 100%; border-collapse: collapse; font-size: 13px;
  th { text-align: left; font-weight: 400; color: var(--soft); padding: 4px 0; }
  thead th { font-size: 12px; text-align: right; &:first-child { text-align: left; } }
  td { text-align: right; font-family: 'Spline Sans Mono Variable', monospace; font-variant-numeric: tabular-nums; padding: 4px 0 4px 10px; }
`;
const Unit = styled.span`position: absolute; width: 1px; height: 1px; overflow: hidden; clip-path: inset(50%);`;
