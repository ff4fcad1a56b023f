/** How often a pointer has been pressed, and whether it still is: what changes meanwhile belongs to one movement of the hand. */
let presses = 0;
let isDown = false;
window.addEventListener(
  'pointerdown',
  () => {
    presses++;
    isDown = true;
  },
  true,
);
for (const end of ['pointerup', 'pointercancel'])
  window.addEventListener(
    end,
    () => {
      isDown = false;
    },
    true,
  );

/** The movement of the hand that goes on now; null where none does. */
export function currentGesture(): number | null {
  return isDown ? presses : null;
}
