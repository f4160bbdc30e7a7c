export interface FigureCell {
  readonly label: string;
  readonly value: string;
  readonly note: string;
}

/** The few numbers that a page is opened for, in a strip: what, how much, and what to hold of it. */
export function FigureCells({ label, cells }: { readonly label: string; readonly cells: readonly FigureCell[] }) {
  return (
    <div className="figure-strip" role="group" aria-label={label}>
      {cells.map(({ label: what, value, note }) => (
        <div key={what}>
          <div className="quiet">{what}</div>
          <div className="figures text-19 weight-700">{value}</div>
          <div className="quiet text-12-5">{note}</div>
        </div>
      ))}
    </div>
  );
}
