import { useMemo, type ReactNode } from 'react';
import { NO_KEY_CHANGES, type KeyScreen } from '@pocket-twin/core/schema/keyChanges.ts';
import { sayKey, withChanges, type ScreenKey } from '../../parts/keyNames.ts';
import { KeysShown, useScreenKeys } from '../../parts/keys.ts';
import { useGetKeyChangesQuery } from '../../state/api.ts';
import { KeysOverlay } from './KeysOverlay.tsx';

interface ScreenKeysProps {
  screen: KeyScreen;
  keys: ScreenKey[];
  /** Keys that the screen has at other times: not free, though nothing hears them now. */
  elsewhere?: ScreenKey[];
  isShown: boolean;
  onClose: () => void;
  children: ReactNode;
}

const NONE: ScreenKey[] = [];

/** A screen with its keys, as a person has them: listened to, shown on its controls, and all in one place where they can be changed. */
export function ScreenKeys({ screen, keys, elsewhere = NONE, isShown, onClose, children }: ScreenKeysProps) {
  const { data = NO_KEY_CHANGES } = useGetKeyChangesQuery();
  const changes = data[screen];
  const mine = useMemo(() => withChanges(keys, changes), [keys, changes]);
  useScreenKeys(mine);
  const signs = JSON.stringify(Object.fromEntries(mine.map((key) => [key.id, sayKey(key)])));
  // The same signs are the same value, or every control with a key would be drawn at every change of the clip.
  const shown = useMemo(() => JSON.parse(signs) as Record<string, string>, [signs]);
  return (
    <KeysShown value={shown}>
      {children}
      {isShown && <KeysOverlay screen={screen} ours={keys} elsewhere={elsewhere} changes={data} onClose={onClose} />}
    </KeysShown>
  );
}
