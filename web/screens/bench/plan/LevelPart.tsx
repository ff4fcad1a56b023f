import styled from 'styled-components';
import { withTrim, trimOf } from '@pocket-twin/core/repair/plan/edit.ts';
import { balance, type BalanceWay } from '@pocket-twin/core/repair/propose/balance.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { LevelTarget, Repair } from '@pocket-twin/core/schema/repair.ts';
import { sayDecibels } from '@pocket-twin/core/signal/sayDecibels.ts';
import { Button } from '../../../parts/Button.tsx';
import { Choice } from '../../../parts/Choice.tsx';
import { NumberInput } from '../../../parts/NumberInput.tsx';

interface LevelPartProps {
  clip: Clip;
  repair: Repair;
  onChange: (repair: Repair) => void;
}

type Target = 'none' | 'loudness' | 'peak';
const FIRST_LUFS = -23;
const FIRST_DBTP = -1;
const WAYS: { way: BalanceWay; label: string }[] = [
  { way: 'down', label: 'Louder down' },
  { way: 'middle', label: 'Meet between' },
  { way: 'up', label: 'Quieter up' },
];

/** Sides brought together, and the level of what is written. */
export function LevelPart({ clip, repair, onChange }: LevelPartProps) {
  const { level } = repair;
  const target: Target = !level ? 'none' : level.loudnessLufs !== null ? 'loudness' : 'peak';
  const set = (change: Partial<LevelTarget> | null): void =>
    onChange({
      ...repair,
      level: change && {
        ...(level ?? { commonGainDb: null, loudnessLufs: null, peakDbtp: null, ceilingDbtp: FIRST_DBTP }),
        ...change,
        commonGainDb: null,
      },
    });
  return (
    <>
      {clip.inspection!.format.channels > 1 && <Sides clip={clip} repair={repair} onChange={onChange} />}
      <Choice<Target>
        label="The level of what is written"
        small
        value={target}
        onChange={(value) =>
          set(
            value === 'none'
              ? null
              : value === 'loudness'
                ? { loudnessLufs: FIRST_LUFS, peakDbtp: null }
                : { loudnessLufs: null, peakDbtp: FIRST_DBTP },
          )
        }
        options={[
          { value: 'none', label: 'As it is', title: 'The level stays as it is' },
          { value: 'loudness', label: 'Loudness', title: 'To a loudness' },
          { value: 'peak', label: 'Peak', title: 'To a true peak' },
        ]}
      />
      {level && level.loudnessLufs !== null && (
        <NumberInput
          label="Loudness"
          unit="LUFS"
          value={level.loudnessLufs}
          step={1}
          min={-60}
          max={0}
          onChange={(loudnessLufs) => set({ loudnessLufs })}
        />
      )}
      {level && level.peakDbtp !== null && (
        <NumberInput
          label="True peak"
          unit="dBTP"
          value={level.peakDbtp}
          step={0.5}
          min={-60}
          max={0}
          onChange={(peakDbtp) => set({ peakDbtp })}
        />
      )}
      {level && level.loudnessLufs !== null && (
        <>
          <NumberInput
            label="Never over"
            unit="dBTP"
            value={level.ceilingDbtp ?? 0}
            step={0.5}
            min={-60}
            max={0}
            onChange={(ceilingDbtp) => set({ ceilingDbtp })}
          />
          <Cost clip={clip} level={level} />
        </>
      )}
    </>
  );
}

/** What cannot be reached, and what comes up with it: told before, by what was measured of the loudest channel. */
function Cost({ clip, level }: { clip: Clip; level: LevelTarget }) {
  const { channels } = clip.inspection!;
  const loudest = channels.reduce((best, one) => ((one.loudnessLufs ?? -99) > (best.loudnessLufs ?? -99) ? one : best));
  if (loudest.loudnessLufs === null || loudest.truePeakDbtp === null || level.loudnessLufs === null) return null;
  const wantedDb = level.loudnessLufs - loudest.loudnessLufs;
  const roomDb = (level.ceilingDbtp ?? 0) - loudest.truePeakDbtp;
  const gainDb = Math.min(wantedDb, roomDb);
  const floor = loudest.noiseFloorDbfs === null ? null : loudest.noiseFloorDbfs + gainDb;
  return (
    <Said>
      {wantedDb > roomDb + 0.05
        ? `About ${sayDecibels(wantedDb - roomDb, 'dB')} short of it: its peaks would pass the ceiling. Only a limiter could, and none is used. `
        : ''}
      {gainDb > 0 && floor !== null ? `Its noise comes up to ${sayDecibels(floor, 'dBFS')}.` : ''}
    </Said>
  );
}

function Sides({ clip, repair, onChange }: LevelPartProps) {
  const inspection = clip.inspection!;
  const found = balance(inspection, [1, 2], 'up');
  if (!found) return null;
  const even = (way: BalanceWay): void => {
    const { trims } = balance(inspection, [1, 2], way)!;
    const gainOf = (channel: number): number => trims.find((trim) => trim.channel === channel)?.gainDb ?? 0;
    const rounded = (db: number): number => Math.round(db * 100) / 100;
    onChange(withTrim(withTrim(repair, 1, { gainDb: rounded(gainOf(1)) }), 2, { gainDb: rounded(gainOf(2)) }));
  };
  const isEven = trimOf(repair, 1).gainDb !== 0 || trimOf(repair, 2).gainDb !== 0;
  return (
    <>
      <Label id="sides-even">Left and right to one loudness</Label>
      <Ways role="group" aria-labelledby="sides-even">
        {WAYS.map(({ way, label }) => (
          <Button key={way} onPress={() => even(way)}>
            {label}
          </Button>
        ))}
      </Ways>
      {found.trims.length > 0 && (
        <Said>
          {isEven ? '' : `They are ${sayDecibels(Math.abs(found.trims[0].gainDb), 'LU')} apart. `}
          Raised, the quieter one’s noise comes to {sayDecibels(found.noiseFloorDbfs, 'dBFS')} and its peaks to{' '}
          {sayDecibels(found.truePeakDbtp, 'dBTP')}
          {(found.truePeakDbtp ?? -99) > 0 ? ': it would clip, so bring the louder one down.' : '.'}
        </Said>
      )}
    </>
  );
}

const Label = styled.p`font-size: 12.5px; font-weight: 600;`;
const Ways = styled.div`display: flex; gap: 5px; button { flex: 1; padding: 4px 2px; font-size: 12px; min-height: 30px; }`;
const Said = styled.p`font-size: 12px; color: var(--soft); &:empty { display: none; }`;
