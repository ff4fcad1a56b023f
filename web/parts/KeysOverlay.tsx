import { Dialog, Heading, Modal, ModalOverlay } from 'react-aria-components';
import styled from 'styled-components';
import { Button } from './Button.tsx';
import type { ScreenKey } from './keys.ts';

/** All keys of a screen in one place. */
export function KeysOverlay({ keys, isOpen, onClose }: { keys: ScreenKey[]; isOpen: boolean; onClose: () => void }) {
  const groups = [...new Set(keys.map(({ group }) => group))];
  return (
    <Shade
      isOpen={isOpen}
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
          <Groups>
            {groups.map((group) => (
              <section key={group}>
                <h3>{group}</h3>
                <dl>
                  {keys
                    .filter((key) => key.group === group)
                    .map((key) => (
                      <div key={key.key}>
                        <dt>
                          <kbd>{key.shown}</kbd>
                        </dt>
                        <dd>{key.does}</dd>
                      </div>
                    ))}
                </dl>
              </section>
            ))}
          </Groups>
          <Button onPress={onClose}>Close</Button>
        </Sheet>
      </Modal>
    </Shade>
  );
}

const Shade = styled(
  ModalOverlay,
)`position: fixed; inset: 0; background: rgb(23 22 28 / 45%); display: grid; place-items: center; z-index: 10;`;
const Sheet = styled(Dialog)`
  background: var(--sheet); border-radius: 14px; padding: 24px 28px; width: min(820px, 92vw); max-height: 90vh; overflow: auto; box-shadow: var(--shadow); outline: none;
  h2 { font-size: 22px; margin-bottom: 14px; }
`;
const Groups = styled.div`
  display: grid; grid-template-columns: 1fr 1fr; gap: 18px 36px; margin-bottom: 18px;
  h3 { font-size: 14px; margin-bottom: 6px; }
  dl > div { display: grid; grid-template-columns: 92px 1fr; gap: 10px; padding: 2px 0; align-items: baseline; }
  kbd { border: 1px solid var(--line); border-radius: 5px; padding: 1px 6px; font-size: 12px; }
  dd { color: var(--soft); }
`;
