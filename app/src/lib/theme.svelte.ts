const KEY = 'ulvex-theme';

/** Day or night. Pictures drawn on canvas read it, so that they are drawn anew when it changes. */
class Theme {
  current = $state<'day' | 'night'>(remembered());

  toggle(): void {
    this.current = this.current === 'day' ? 'night' : 'day';
    this.apply();
    try {
      localStorage.setItem(KEY, this.current);
    } catch {
      // A forbidden store costs the memory of the theme only; the project says so loudly itself.
    }
  }

  apply(): void {
    document.documentElement.dataset.theme = this.current;
  }
}

function remembered(): 'day' | 'night' {
  try {
    return localStorage.getItem(KEY) === 'night' ? 'night' : 'day';
  } catch {
    return 'day';
  }
}

export const theme = new Theme();

const known: Record<'day' | 'night', Map<string, string>> = { day: new Map(), night: new Map() };

/** The value of a colour token in the theme that is shown. */
export function token(name: string): string {
  const values = known[theme.current]; // whoever asks depends on the theme
  let value = values.get(name);
  if (value === undefined) {
    value = getComputedStyle(document.documentElement).getPropertyValue(name).trim();
    if (value !== '') values.set(name, value); // asking the browser makes it bring its styles up to date
  }
  return value;
}
