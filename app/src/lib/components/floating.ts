/** Smallest way to the edge of the window, in px. */
const MARGIN = 4;

/**
 * Attachment of a short message that follows a field: it stands above everything that would clip it, below the field or, where the
 * window ends, above it, and goes with the field when something scrolls.
 *
 * @param edge - edge of the field that it lines up with
 */
export function floating(edge: 'left' | 'right') {
  return (message: HTMLElement): (() => void) => {
    const field = message.previousElementSibling ?? message;
    message.popover = 'manual';
    message.showPopover();
    const place = () => {
      const at = field.getBoundingClientRect();
      const { width, height } = message.getBoundingClientRect();
      const left = edge === 'left' ? at.left : at.right - width;
      const top = at.bottom + 2 + height <= innerHeight ? at.bottom + 2 : at.top - 2 - height;
      message.style.left = `${Math.max(MARGIN, Math.min(innerWidth - width - MARGIN, left))}px`;
      message.style.top = `${Math.max(MARGIN, top)}px`;
    };
    const growth = new ResizeObserver(place); // at once, and whenever its text changes
    growth.observe(message);
    addEventListener('scroll', place, { capture: true, passive: true });
    addEventListener('resize', place);
    return () => {
      growth.disconnect();
      removeEventListener('scroll', place, { capture: true });
      removeEventListener('resize', place);
    };
  };
}
