import { createContext, useLayoutEffect } from 'react';
import { nameOfKey, type ScreenKey } from './keyNames.ts';

/** What has a key of its own, so that Space and Enter stay the screen's. */
export const OWN_KEY = 'data-own-key';

/** Whether the focus came to where it is by pointer: then Space and Enter were not meant for it. */
let focusedByPointer = false;
let pointerIsDown = false;
window.addEventListener(
  'pointerdown',
  () => {
    pointerIsDown = true;
  },
  true,
);
// The click that follows may still move the focus.
window.addEventListener(
  'pointerup',
  () => {
    setTimeout(() => {
      pointerIsDown = false;
    }, 0);
  },
  true,
);
window.addEventListener(
  'focusin',
  () => {
    focusedByPointer = pointerIsDown;
  },
  true,
);

/**
 * Listens for a screen's keys, wherever the focus is, except where a person types, or while a layer lies over the screen.
 * Before any control hears them: a button that was clicked would keep Space and Enter for itself from then on.
 * As soon as the screen shows what a key does, it does that, and no longer what it did before.
 */
export function useScreenKeys(keys: ScreenKey[]): void {
  useLayoutEffect(() => {
    const pressed = (event: KeyboardEvent): void => {
      if (event.altKey || isTyping(event.target) || layerIsOpen()) return;
      const found = keys.find((key) => matches(event, key));
      if (!found || controlTakes(event)) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      if (!event.repeat || found.repeats) found.run();
    };
    window.addEventListener('keydown', pressed, true);
    return () => window.removeEventListener('keydown', pressed, true);
  }, [keys]);
}

function matches(event: KeyboardEvent, { key, withCtrl }: ScreenKey): boolean {
  return nameOfKey(event) === (event.ctrlKey || event.metaKey ? withCtrl : key);
}

/** How the keys of the screen around are written, by what they do. */
export const KeysShown = createContext<Record<string, string>>({});

function isTyping(target: EventTarget | null): boolean {
  if (target instanceof HTMLInputElement) return !['radio', 'checkbox', 'range', 'button'].includes(target.type);
  return (
    target instanceof HTMLTextAreaElement ||
    target instanceof HTMLSelectElement ||
    (target instanceof HTMLElement && target.isContentEditable)
  );
}

/** A dialog, a menu or a list lies over the screen: nothing behind it hears a key. */
function layerIsOpen(): boolean {
  return document.querySelector('[role="dialog"], [role="alertdialog"], [role="menu"], [role="listbox"]') !== null;
}

/** Whether a key belongs to what has the focus: arrows to what they move in, digits to what takes them, Enter and Space to what was reached by keyboard and has no key of its own. */
function controlTakes(event: KeyboardEvent): boolean {
  if (!(event.target instanceof Element)) return false;
  const { target } = event;
  if (event.key.startsWith('Arrow') || event.key === 'Home' || event.key === 'End') {
    return (
      !focusedByPointer &&
      target.closest(
        '[role="radiogroup"], [role="radio"], [role="slider"], [role="grid"], [role="list"][data-arrows], summary',
      ) !== null
    );
  }
  if (/^\d$/.test(event.key)) return target.closest('[data-takes-digits]') !== null;
  if (event.key !== 'Enter' && event.key !== ' ') return false;
  const control = target.closest('button, a, summary, [role="slider"]');
  if (!control || focusedByPointer || control.hasAttribute(OWN_KEY) || control.getAttribute('role') === 'radio')
    return false;
  return !(event.key === ' ' && control.matches('a'));
}
