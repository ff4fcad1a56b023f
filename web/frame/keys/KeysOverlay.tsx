import { useEffect, useState } from 'react';
import { Button as AriaButton, Dialog, Heading, Modal, ModalOverlay } from 'react-aria-components';
import styled from 'styled-components';
import type { KeyChanges, KeyScreen } from '@pocket-twin/core/schema/keyChanges.ts';
import { Button } from '../../parts/Button.tsx';
import { nameOfKey, sayKey, withChanges, type ScreenKey } from '../../parts/keyNames.ts';
import { sentenceOf, useSetKeyChangesMutation } from '../../state/api.ts';
import { changeKey } from './changeKey.ts';
import { scrolls } from '../../parts/scrolls.ts';

interface KeysOverlayProps {
  screen: KeyScreen;
  ours: ScreenKey[];
  elsewhere: ScreenKey[];
  changes: KeyChanges;
  onClose: () => void;
}

/** What a press came to, and for which of the keys. */
type Said = { id: string; sentence: string; exchanged?: Record<string, string> };

/** All keys of a screen in one place, where a person can give each another. */
export function KeysOverlay({ screen, ours, elsewhere, changes, onClose }: KeysOverlayProps) {
  const mine = changes[screen];
  const keys = withChanges(ours, mine);
  const all = [...ours, ...elsewhere.filter(({ id }) => !ours.some((key) => key.id === id))];
  const groups = [...new Set(keys.map(({ group }) => group))];
  const [changing, setChanging] = useState<string | null>(null);
  const [said, setSaid] = useState<Said | null>(null);
  const [save, { error }] = useSetKeyChangesMutation();
  const put = (to: Record<string, string>): void => {
    setChanging(null);
    setSaid(null);
    save({ ...changes, [screen]: to })
      .unwrap()
      .catch(() => undefined);
  };
  const give = (id: string, key: string): void => {
    const answer = changeKey(all, mine, id, key);
    if (answer.kind === 'changed') return put(answer.changes);
    setChanging(null);
    if (answer.kind === 'refused') return setSaid({ id, sentence: answer.why });
    setSaid({ id, sentence: `${sayKey({ key })} is “${answer.by.does}” already.`, exchanged: answer.exchanged });
  };
  useNextKey(changing !== null, (key) => {
    if (key === null) setChanging(null);
    else give(changing!, key);
  });
  return (
    <Shade
      isOpen
      isKeyboardDismissDisabled={changing !== null}
      onOpenChange={(open) => {
        if (!open) onClose();
      }}
      isDismissable
    >
      <Modal>
        <Sheet>
          <Heading slot="title" level={2}>
            Keys
          </Heading>
          <Hint>Press a key’s name to give it another.</Hint>
          <Groups>
            {groups.map((group) => (
              <section key={group}>
                <h3>{group}</h3>
                <ul>
                  {keys
                    .filter((key) => key.group === group)
                    .map((key) => {
                      const came = ours.find(({ id }) => id === key.id)!;
                      const isChanging = changing === key.id;
                      return (
                        <li key={key.id}>
                          {key.fixed !== undefined ? (
                            <kbd title={key.fixed}>{sayKey(key)}</kbd>
                          ) : (
                            <KeyButton
                              aria-label={
                                isChanging
                                  ? `Press a key for: ${key.does}`
                                  : `${sayKey(key) || 'No key'}: ${key.does}. Change`
                              }
                              data-changing={isChanging || undefined}
                              onPress={() => {
                                setSaid(null);
                                setChanging(isChanging ? null : key.id);
                              }}
                            >
                              {isChanging ? 'press ...' : sayKey(key) || 'none'}
                            </KeyButton>
                          )}
                          <span>
                            {key.does}
                            {key.key !== came.key && (
                              <Back
                                aria-label={`Back to ${sayKey(came)}: ${key.does}`}
                                onPress={() => give(key.id, came.key)}
                              >
                                back to {sayKey(came)}
                              </Back>
                            )}
                          </span>
                          {said?.id === key.id && (
                            <Told role="alert">
                              {said.sentence}
                              {said.exchanged && (
                                <Button autoFocus onPress={() => put(said.exchanged!)}>
                                  Exchange the two
                                </Button>
                              )}
                              <Button kind="quiet" onPress={() => setSaid(null)}>
                                {said.exchanged ? 'Leave both' : 'All right'}
                              </Button>
                            </Told>
                          )}
                        </li>
                      );
                    })}
                </ul>
              </section>
            ))}
          </Groups>
          <Foot>
            <Button onPress={onClose}>Close</Button>
            {Object.keys(mine).length > 0 && (
              <Button kind="quiet" onPress={() => put({})}>
                All keys as they came
              </Button>
            )}
            <p role="status">
              {changing !== null
                ? 'Press the new key; Esc leaves it as it is.'
                : error !== undefined && sentenceOf(error)}
            </p>
          </Foot>
        </Sheet>
      </Modal>
    </Shade>
  );
}

/** Hears the next key before anything else does; null where a person leaves it. */
function useNextKey(isWaiting: boolean, onKey: (key: string | null) => void): void {
  useEffect(() => {
    if (!isWaiting) return;
    const pressed = (event: KeyboardEvent): void => {
      if (['Shift', 'Control', 'Alt', 'Meta', 'AltGraph', 'CapsLock'].includes(event.key)) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      if (event.ctrlKey || event.metaKey || (event.altKey && event.key.length > 1)) return;
      onKey(event.key === 'Escape' || event.key === 'Tab' ? null : nameOfKey(event));
    };
    window.addEventListener('keydown', pressed, true);
    return () => window.removeEventListener('keydown', pressed, true);
  });
}

const Shade = styled(
  ModalOverlay,
)`position: fixed; inset: 0; background: rgb(23 22 28 / 45%); display: grid; place-items: center; z-index: 10;`;
const Sheet = styled(Dialog)`
  background: var(--sheet); border-radius: 14px; padding: 24px 28px; width: min(880px, 92vw); max-height: 90vh; ${scrolls} box-shadow: var(--shadow); outline: none;
  h2 { font-size: 22px; }
`;
const Hint = styled.p`color: var(--soft); margin: 2px 0 14px;`;
const Groups = styled.div`
  display: grid; grid-template-columns: 1fr 1fr; gap: 18px 36px; margin-bottom: 18px;
  @media (max-width: 700px) { grid-template-columns: 1fr; }
  h3 { font-size: 14px; margin-bottom: 6px; }
  li { display: grid; grid-template-columns: 92px 1fr; gap: 2px 10px; padding: 2px 0; align-items: baseline; color: var(--soft); }
  kbd { justify-self: start; padding: 1px 6px; font: inherit; font-size: 12px; color: var(--soft); border: 1px dashed var(--line); border-radius: 5px; }
`;
const KeyButton = styled(AriaButton)`
  justify-self: start; border: 1px solid var(--line); border-radius: 5px; padding: 1px 6px; font-size: 12px; min-width: 26px; background: none; cursor: pointer; color: var(--ink);
  &[data-hovered] { border-color: var(--ink); }
  &[data-changing] { background: var(--button); color: var(--button-text); border-color: var(--button); }
`;
const Back = styled(AriaButton)`
  margin-left: 8px; border: 0; background: none; padding: 0; font-size: 12px; text-decoration: underline; text-underline-offset: 3px; cursor: pointer; color: var(--ink); white-space: nowrap;
`;
const Told = styled.div`grid-column: 1 / -1; display: flex; flex-wrap: wrap; align-items: center; gap: 6px 10px; color: var(--ink); padding: 2px 0 6px; font-weight: 600; button { min-height: 28px; padding: 2px 8px; font-size: 13px; }`;
const Foot = styled.div`display: flex; align-items: center; gap: 10px; p { color: var(--soft); font-size: 13px; }`;
