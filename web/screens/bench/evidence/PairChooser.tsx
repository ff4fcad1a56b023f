import { ListBox, ListBoxItem, Popover, Select, SelectValue, Button, Label } from 'react-aria-components';
import styled from 'styled-components';

interface PairChooserProps {
  channels: number;
  pair: [number, number];
  onChange: (pair: [number, number]) => void;
}

/** Any two channels of a clip that has more. */
export function PairChooser({ channels, pair, onChange }: PairChooserProps) {
  const choose = (side: 0 | 1, channel: number): void => onChange(side === 0 ? [channel, pair[1]] : [pair[0], channel]);
  return (
    <Row>
      {([0, 1] as const).map((side) => (
        <Select
          key={side}
          selectedKey={pair[side]}
          onSelectionChange={(key) => {
            if (key !== null) choose(side, Number(key));
          }}
        >
          <Label className="visually-hidden">{side === 0 ? 'First channel' : 'Second channel'}</Label>
          <Opener>
            <SelectValue />
          </Opener>
          <Popover>
            <List>
              {Array.from({ length: channels }, (_, i) => i + 1)
                .filter((channel) => channel !== pair[1 - side])
                .map((channel) => (
                  <ListBoxItem key={channel} id={channel} textValue={`Channel ${channel}`}>
                    Channel {channel}
                  </ListBoxItem>
                ))}
            </List>
          </Popover>
        </Select>
      ))}
    </Row>
  );
}

const Row = styled.div`display: flex; gap: 6px; .visually-hidden { position: absolute; clip-path: inset(50%); }`;
const Opener = styled(
  Button,
)`border: 1px solid var(--line); border-radius: 8px; background: var(--sheet); padding: 3px 10px; font-size: 12px; font-weight: 600; cursor: pointer;`;
const List = styled(ListBox)`
  background: var(--sheet); border: 1px solid var(--line); border-radius: 8px; box-shadow: var(--shadow); padding: 4px; max-height: 260px; overflow: auto;
  [role='option'] { padding: 4px 12px; border-radius: 5px; cursor: pointer; font-size: 13px; } [data-focused] { background: var(--chosen); }
`;
