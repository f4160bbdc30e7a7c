import type { Letter } from '@ebrix/contract';

const COLOUR: Readonly<Record<Letter, string>> = {
  A: 'var(--setup-a)',
  B: 'var(--setup-b)',
  C: 'var(--setup-c)',
  D: 'var(--setup-d)',
  E: 'var(--setup-e)',
  F: 'var(--setup-f)',
};

export function setupColour(letter: Letter): string {
  return COLOUR[letter];
}

interface ShapeProps {
  readonly letter: Letter;
  readonly x: number;
  readonly y: number;
  readonly size: number;
  /** A run that is left out is drawn hollow. */
  readonly isHollow?: boolean;
}

/** The marker of a setup: the same shape and colour on every screen and printout. */
export function SetupShape({ letter, x, y, size, isHollow = false }: ShapeProps) {
  const r = size / 2;
  const colour = COLOUR[letter];
  const paint = { fill: isHollow ? 'var(--surface)' : colour, stroke: colour, strokeWidth: isHollow ? 1.5 : 0.5 };
  const points = (list: readonly (readonly [number, number])[]): string =>
    list.map(([dx, dy]) => `${x + dx * r},${y + dy * r}`).join(' ');
  switch (letter) {
    case 'A':
      return <circle cx={x} cy={y} r={r} {...paint} />;
    case 'B':
      return <rect x={x - r * 0.9} y={y - r * 0.9} width={r * 1.8} height={r * 1.8} {...paint} />;
    case 'C':
      return (
        <polygon
          points={points([
            [0, -1.1],
            [1.1, 0.9],
            [-1.1, 0.9],
          ])}
          {...paint}
        />
      );
    case 'D':
      return (
        <polygon
          points={points([
            [0, -1.2],
            [1.2, 0],
            [0, 1.2],
            [-1.2, 0],
          ])}
          {...paint}
        />
      );
    case 'E':
      return (
        <polygon
          points={points([
            [0, 1.1],
            [1.1, -0.9],
            [-1.1, -0.9],
          ])}
          {...paint}
        />
      );
    case 'F':
      return (
        <path
          d={`M${x - r} ${y - r}L${x + r} ${y + r}M${x - r} ${y + r}L${x + r} ${y - r}`}
          fill="none"
          stroke={colour}
          strokeWidth={isHollow ? 1.2 : 2.6}
        />
      );
  }
}

/** Letter with its marker, for text. */
export function SetupMark({ letter, label }: { readonly letter: Letter; readonly label?: string }) {
  return (
    <span className="inline-flex items-center gap-6 nowrap">
      <svg width={16} height={16} className="shrink-0" aria-hidden="true">
        <SetupShape letter={letter} x={8} y={8} size={12} />
      </svg>
      <strong>{letter}</strong>
      {label && <span className="wrap-normal">{label}</span>}
    </span>
  );
}
