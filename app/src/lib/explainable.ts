/** The nearest element at or around one that can be explained. */
export function explainable(from: Element | null): HTMLElement | null {
  return from?.closest<HTMLElement>('[data-explain]') ?? null;
}
