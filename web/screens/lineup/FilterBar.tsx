import { Search } from 'lucide-react';
import { memo } from 'react';
import { Input, SearchField, ToggleButton, ToggleButtonGroup, type Key } from 'react-aria-components';
import styled from 'styled-components';
import { VERDICTS } from '@pocket-twin/core/diagnose/catalogue/verdicts.ts';
import { standingWords, verdictWords } from '@pocket-twin/core/lineup/words.ts';
import { LineupFilter, Standing } from '@pocket-twin/core/schema/lineup.ts';
import type { ClipVerdict } from '@pocket-twin/core/schema/verdict.ts';
import type { Lineup } from '../../state/useLineup.ts';
import { useAppDispatch, useAppSelector } from '../../state/store.ts';
import { TwinGlyph } from '../../parts/TwinGlyph.tsx';
import { filtered, searched } from '../../state/lineupSlice.ts';

const ALL = 'all';
const VERDICT_FILTERS = Object.keys(VERDICTS) as ClipVerdict[];

/** Narrows the list by where clips stand or by their verdict: one press each, with how many there are. */
export const FilterBar = memo(
  function FilterBar({ counts }: { counts: Lineup['counts'] }) {
    const dispatch = useAppDispatch();
    const only = useAppSelector((state) => state.lineup.query.only);
    const choose = (keys: Set<Key>): void => {
      const [key] = keys;
      dispatch(filtered(key === ALL || key === undefined ? undefined : LineupFilter.parse(key)));
    };
    const isPresent = (filter: LineupFilter): boolean => counts[filter] !== undefined || filter === only;
    const all = Standing.options.reduce((sum, standing) => sum + (counts[standing] ?? 0), 0);
    return (
      <Chips
        aria-label="Show only"
        selectionMode="single"
        disallowEmptySelection
        selectedKeys={[only ?? ALL]}
        onSelectionChange={choose}
      >
        <Chip id={ALL} data-filter={ALL}>
          All <span className="numeric">{all}</span>
        </Chip>
        {Standing.options.filter(isPresent).map((standing) => (
          <Chip key={standing} id={standing} data-filter={standing}>
            {standingWords(standing)} <span className="numeric">{counts[standing] ?? 0}</span>
          </Chip>
        ))}
        {isPresent('in-edit') && (
          <Chip id="in-edit" data-filter="in-edit">
            In the edit <span className="numeric">{counts['in-edit'] ?? 0}</span>
          </Chip>
        )}
        {VERDICT_FILTERS.some(isPresent) && <i aria-hidden="true" />}
        {VERDICT_FILTERS.filter(isPresent).map((verdict) => (
          <Chip key={verdict} id={verdict} data-filter={verdict}>
            <TwinGlyph verdict={verdict} side={verdict === 'one-sided' ? 'left' : null} size={28} />
            {verdictWords(verdict)} <span className="numeric">{counts[verdict] ?? 0}</span>
          </Chip>
        ))}
      </Chips>
    );
  },
  (before, now) => LineupFilter.options.every((filter) => before.counts[filter] === now.counts[filter]),
);

/** Words that a clip's name, setup, sentence or repair must have. */
export function SearchBox() {
  const dispatch = useAppDispatch();
  const search = useAppSelector((state) => state.lineup.query.search);
  return (
    <Field aria-label="Search clips" value={search} onChange={(text) => dispatch(searched(text))}>
      <Search size={15} aria-hidden="true" />
      <Input placeholder="Search" />
      <kbd aria-hidden="true">/</kbd>
    </Field>
  );
}

const Chip = ToggleButton;
const Chips = styled(ToggleButtonGroup)`
  display: flex; flex-wrap: wrap; gap: 6px;
  > i { width: 1px; background: var(--line); margin: 4px 4px; }
  button {
    display: inline-flex; gap: 6px; align-items: center; height: 30px; padding: 0 11px; border: 1px solid var(--line); border-radius: 99px; background: var(--sheet);
    font-weight: 600; font-size: 13px; cursor: pointer; white-space: nowrap;
    span { font-size: 12px; color: var(--soft); font-weight: 500; }
    svg { transform: scale(0.85); }
    &[data-hovered] { border-color: var(--ink); }
    &[data-selected] { background: var(--button); color: var(--button-text); border-color: var(--button); span { color: inherit; } }
    &[data-selected] svg { background: var(--sheet); border-radius: 99px; outline: 3px solid var(--sheet); }
  }
`;
const Field = styled(SearchField)`
  display: flex; align-items: center; gap: 7px; height: 32px; padding: 0 9px; border: 1px solid var(--soft); border-radius: 9px; background: var(--sheet); color: var(--soft); flex: none;
  input { border: 0; background: transparent; outline: none; width: 130px; color: var(--ink); &::-webkit-search-cancel-button { display: none; } }
  kbd { font-size: 11px; border: 1px solid currentColor; border-radius: 5px; padding: 0 4px; }
  &[data-focus-within], &:focus-within { outline: 2px solid var(--left); outline-offset: 1px; kbd { visibility: hidden; } }
`;
