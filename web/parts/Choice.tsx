import { Radio, RadioGroup } from 'react-aria-components';
import { useContext } from 'react';
import styled from 'styled-components';
import { KeysShown } from './keys.ts';

interface ChoiceProps<Value extends string> {
  label: string;
  value: Value;
  options: readonly { value: Value; label: string; keyOf?: string; title?: string }[];
  onChange: (value: Value) => void;
  small?: boolean;
}

/** One of a few, all in sight: arrows choose. */
export function Choice<Value extends string>({ label, value, options, onChange, small = false }: ChoiceProps<Value>) {
  return (
    <Group aria-label={label} orientation="horizontal" value={value} onChange={(chosen) => onChange(chosen as Value)}>
      {options.map((option) => (
        <Option key={option.value} value={option.value} $small={small} aria-label={option.title ?? option.label}>
          <Label text={option.label} keyOf={option.keyOf} />
        </Option>
      ))}
    </Group>
  );
}

/** A label whose letter is underlined that is its key; another key stands behind. */
function Label({ text, keyOf }: { text: string; keyOf?: string }) {
  const key = useContext(KeysShown)[keyOf ?? ''] ?? '';
  const at = key.length === 1 ? text.toUpperCase().indexOf(key) : -1;
  if (at < 0)
    return (
      <>
        {text}
        {key !== '' && <small aria-hidden="true">{key}</small>}
      </>
    );
  return (
    <>
      {text.slice(0, at)}
      <u>{text[at]}</u>
      {text.slice(at + 1)}
    </>
  );
}

const Group = styled(RadioGroup)`
  display: inline-flex; border: 1px solid var(--line); border-radius: 9px; overflow: hidden; background: var(--sheet); flex: none; align-self: flex-start;
`;

const Option = styled(Radio)<{ $small: boolean }>`
  display: inline-flex; border: 0; background: transparent; cursor: pointer; font-weight: 600; color: var(--soft); white-space: nowrap;
  padding: ${({ $small }) => ($small ? '3px 9px' : '7px 12px')};
  font-size: ${({ $small }) => ($small ? '12px' : '14px')};
  & + & { border-left: 1px solid var(--line); }
  &[data-hovered] { color: var(--ink); }
  &[data-selected] { background: var(--button); color: var(--button-text); }
  @media (forced-colors: active) { &[data-selected] { forced-color-adjust: none; background: Highlight; color: HighlightText; } }
  &[data-focus-visible] { outline-offset: -3px; }
  u { text-underline-offset: 3px; }
  small { margin-left: 4px; font-size: 11px; }
`;
