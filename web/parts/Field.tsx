import { ChevronDown } from 'lucide-react';
import {
  Button,
  FieldError,
  Input,
  Label,
  ListBox,
  ListBoxItem,
  Popover,
  Select,
  SelectValue,
  Text,
  TextField,
  type TextFieldProps,
} from 'react-aria-components';
import styled, { css } from 'styled-components';

interface WordsProps extends Omit<TextFieldProps, 'children'> {
  label: string;
  complaint?: string;
  hint?: string;
}

/** A line of text with its name above it. */
export function Words({ label, complaint, hint, ...rest }: WordsProps) {
  return (
    <Box {...rest} isInvalid={complaint !== undefined}>
      <Label>{label}</Label>
      <Input autoComplete="off" />
      {hint && <Text slot="description">{hint}</Text>}
      <FieldError>{complaint}</FieldError>
    </Box>
  );
}

interface PickProps<Value extends string> {
  label: string;
  value: Value;
  options: readonly { value: Value; label: string }[];
  onChange: (value: Value) => void;
}

/** One of several, behind a button that says which. */
export function Pick<Value extends string>({ label, value, options, onChange }: PickProps<Value>) {
  return (
    <SelectBox value={value} onChange={(key) => onChange(key as Value)}>
      <Label>{label}</Label>
      <Button>
        <SelectValue />
        <ChevronDown size={15} aria-hidden="true" />
      </Button>
      <Choices>
        <ListBox>
          {options.map((option) => (
            <ListBoxItem key={option.value} id={option.value}>
              {option.label}
            </ListBoxItem>
          ))}
        </ListBox>
      </Choices>
    </SelectBox>
  );
}

const field = css`
  display: flex; flex-direction: column; gap: 5px;
  label, .react-aria-Label { font-weight: 600; font-size: 13px; }
  [slot='description'] { color: var(--soft); font-size: 12.5px; }
  .react-aria-FieldError { color: var(--fix); font-size: 13px; }
`;
const Box = styled(
  TextField,
)`${field} input { width: 100%; padding: 8px 10px; border: 1px solid var(--soft); border-radius: 9px; background: var(--paper); }`;
const SelectBox = styled(Select)`
  ${field}
  > button { display: flex; justify-content: space-between; align-items: center; gap: 10px; padding: 8px 10px; border: 1px solid var(--soft); border-radius: 9px; background: var(--paper); cursor: pointer; text-align: left; }
` as unknown as typeof Select;
export const Choices = styled(Popover)`
  background: var(--sheet); border: 1px solid var(--line); border-radius: 10px; box-shadow: var(--shadow); padding: 5px; min-width: var(--trigger-width); max-height: 320px; overflow: auto; z-index: 20;
  [role='option'], [role='menuitem'], [role='menuitemcheckbox'] { padding: 7px 11px; border-radius: 7px; cursor: pointer; outline: none; display: flex; gap: 10px; align-items: center; justify-content: space-between; }
  [data-focused] { background: var(--chosen); }
  [data-selected] { font-weight: 600; }
`;
