import { Search } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Input, SearchField, ToggleButton, ToggleButtonGroup, type Key } from 'react-aria-components';
import styled from 'styled-components';
import { LineupFilter, type Lineup } from '@pocket-twin/core/schema/lineup.ts';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { TwinGlyph } from '../../parts/TwinGlyph.tsx';
import { verdictWords } from '../../parts/verdictWords.ts';
import { filtered, searched } from './lineupSlice.ts';

const ALL = 'all';
const SEARCH_AFTER_MS = 200;
// In the order of what presses most.
const ORDER: LineupFilter[] = ['one-sided', 'two-mics', 'fake-stereo', 'changing', 'dual-mono', 'stereo', 'mono', 'multichannel', 'silent', 'failed', 'open'];

/** Narrows the list: one press a verdict, with how many there are. */
export function FilterBar({ lineup }: { lineup: Lineup }) {
  const dispatch = useAppDispatch();
  const only = useAppSelector((state) => state.lineup.query.only);
  const choose = (keys: Set<Key>): void => {
    const [key] = keys;
    dispatch(filtered(key === ALL || key === undefined ? undefined : LineupFilter.parse(key)));
  };
  const present = ORDER.filter((filter) => lineup.counts[filter] !== undefined || filter === only);
  const all = Object.values(lineup.counts).reduce((sum, count) => sum + count, 0);
  return (
    <Chips aria-label="Show only" selectionMode="single" disallowEmptySelection selectedKeys={[only ?? ALL]} onSelectionChange={choose}>
      <ToggleButton id={ALL}>All <span className="numeric">{all}</span></ToggleButton>
      {present.map((filter) => (
        <ToggleButton key={filter} id={filter}>
          {filter !== 'failed' && filter !== 'open' && <TwinGlyph verdict={filter} side={filter === 'one-sided' ? 'left' : null} size={28} />}
          {filter === 'failed' ? 'Not readable' : filter === 'open' ? 'Being measured' : verdictWords(filter)}
          <span className="numeric">{lineup.counts[filter] ?? 0}</span>
        </ToggleButton>
      ))}
    </Chips>
  );
}

/** Words that a clip's name, setup, sentence or repair must have. */
export function SearchBox() {
  const dispatch = useAppDispatch();
  const search = useAppSelector((state) => state.lineup.query.search);
  const [text, setText] = useState(search);
  useEffect(() => {
    const timer = setTimeout(() => dispatch(searched(text)), SEARCH_AFTER_MS);
    return () => clearTimeout(timer);
  }, [dispatch, text]);
  return (
    <Field aria-label="Search clips" value={text} onChange={setText}>
      <Search size={15} aria-hidden="true" />
      <Input placeholder="Search" />
      <kbd aria-hidden="true">/</kbd>
    </Field>
  );
}

const Chips = styled(ToggleButtonGroup)`
  display: flex; flex-wrap: wrap; gap: 6px;
  button {
    display: inline-flex; gap: 7px; align-items: center; height: 30px; padding: 0 11px; border: 1px solid var(--line); border-radius: 99px; background: var(--sheet);
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
  kbd { font-size: 11px; border: 1px solid currentColor; border-radius: 5px; padding: 0 4px; opacity: 0.75; }
  &[data-focus-within], &:focus-within { outline: 2px solid var(--left); outline-offset: 1px; kbd { visibility: hidden; } }
`;
