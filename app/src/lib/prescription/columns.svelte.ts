const KEY = 'ulvex-columns';

export type OptionalColumn = 'conic' | 'semi' | 'comment';

/** Columns of the prescription that can be hidden, with their titles and widths. */
export const OPTIONAL_COLUMNS: readonly {
  readonly id: OptionalColumn;
  readonly title: string;
  readonly width: string;
}[] = [
  { id: 'conic', title: 'conic', width: '68px' },
  { id: 'semi', title: 'semi-ap.', width: '74px' },
  { id: 'comment', title: 'comment', width: '120px' },
];

/** Which columns of the prescription are shown; remembered by the browser, no part of the project. */
class Columns {
  shown = $state.raw<ReadonlySet<OptionalColumn>>(remembered());

  toggle(id: OptionalColumn): void {
    this.shown = new Set(this.shown.has(id) ? [...this.shown].filter((one) => one !== id) : [...this.shown, id]);
    try {
      localStorage.setItem(KEY, [...this.shown].join());
    } catch {
      // a forbidden store costs the memory of columns only
    }
  }

  /** Width that the whole list wants, px. */
  get width(): number {
    return 448 + (this.shown.has('comment') ? 124 : 0);
  }

  /** For `grid-template-columns`; the last ones together leave room for the name of a glass. */
  get template(): string {
    const widths = OPTIONAL_COLUMNS.filter(({ id }) => this.shown.has(id)).map(({ width }) => width);
    return ['16px minmax(84px, 1fr) 20px 104px', ...(widths.length > 0 ? widths : ['142px'])].join(' ');
  }
}

function remembered(): ReadonlySet<OptionalColumn> {
  try {
    const kept = localStorage.getItem(KEY);
    if (kept !== null)
      return new Set(OPTIONAL_COLUMNS.map(({ id }) => id).filter((id) => kept.split(',').includes(id)));
  } catch {
    // as below
  }
  return new Set(['conic', 'semi']);
}

export const columns = new Columns();
