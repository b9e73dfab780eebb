/** Scrolls an element into view when it is chosen. */
export const nearest = (chosen: boolean) => (element: HTMLElement) => {
  if (chosen) element.scrollIntoView({ block: 'nearest' });
};
