/** Curves of one picture are told apart by colour, dash and mark: never by colour alone. */
export const SERIES_STYLES = [
  { colour: 'var(--acting)', dash: undefined, shape: 'circle', mark: 'M-4 0a4 4 0 1 0 8 0a4 4 0 1 0 -8 0' },
  { colour: 'var(--setup-b)', dash: '7 3', shape: 'square', mark: 'M-4 -4h8v8h-8z' },
  { colour: 'var(--setup-a)', dash: '2 3', shape: 'triangle', mark: 'M0 -5L5 4H-5z' },
  { colour: 'var(--setup-c)', dash: '9 3 2 3', shape: 'diamond', mark: 'M0 -5L5 0L0 5L-5 0z' },
  { colour: 'var(--setup-d)', dash: '4 2', shape: 'cross', mark: 'M-1.5 -5h3v3.5h3.5v3h-3.5v3.5h-3v-3.5h-3.5v-3h3.5z' },
  {
    colour: 'var(--setup-e)',
    dash: '12 4',
    shape: 'star',
    mark: 'M0 -5L1.5 -1.5L5 0L1.5 1.5L0 5L-1.5 1.5L-5 0L-1.5 -1.5z',
  },
  { colour: 'var(--ink)', dash: '1 2', shape: 'circle', mark: 'M-4 0a4 4 0 1 0 8 0a4 4 0 1 0 -8 0' },
] as const;
export type SeriesStyle = Omit<(typeof SERIES_STYLES)[number], 'dash'> & { readonly dash: string | undefined };
