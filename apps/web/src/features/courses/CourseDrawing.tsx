import { Button, Input } from 'antd';
import { useState, type PointerEvent } from 'react';
import type { Course } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { formatQuantity } from '../../shared/format/format-quantity.js';
import { Problem } from '../../shared/ui/QueryView.js';
import { useWidth } from '../../shared/charts/index.js';
import { useDrawCourseMutation } from '../../entities/course/index.js';

interface Corner {
  readonly eastM: number;
  readonly northM: number;
}
const HEIGHT = 300;
const SCALES = [200, 500, 1000, 2000, 5000, 10_000] as const;

/** A course drawn by taps on squared paper, with altitudes typed below: for those without a track. */
export function CourseDrawing({ course, onDone }: { readonly course: Course; readonly onDone: () => void }) {
  const system = useUnits();
  const [box, width] = useWidth<HTMLDivElement>(560);
  const [widthM, setWidthM] = useState<number>(1000);
  const [corners, setCorners] = useState<readonly Corner[]>([]);
  const [text, setText] = useState('');
  const [draw, { isLoading, error }] = useDrawCourseMutation();
  const perPx = widthM / Math.max(1, width);
  const gridM = widthM / 10;
  const altitudes = readAltitudes(text);
  const lengthM = corners
    .slice(1)
    .reduce(
      (sum, corner, k) => sum + Math.hypot(corner.eastM - corners[k]!.eastM, corner.northM - corners[k]!.northM),
      0,
    );
  const put = (event: PointerEvent<SVGSVGElement>): void => {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    setCorners([
      ...corners,
      {
        eastM: Math.round((event.clientX - left) * perPx),
        northM: Math.round((HEIGHT - (event.clientY - top)) * perPx),
      },
    ]);
  };
  const x = (corner: Corner): number => corner.eastM / perPx;
  const y = (corner: Corner): number => HEIGHT - corner.northM / perPx;
  return (
    <div>
      <p>
        Tap corner after corner on the squared paper: one square is {formatQuantity(gridM, 'm', system)}. North is up.
        So far {formatQuantity(lengthM, 'm', system)}.
      </p>
      <div className="actions mt-8 mb-8 mx-0">
        <label>
          Paper is{' '}
          <select value={widthM} onChange={({ target }) => setWidthM(Number(target.value))}>
            {SCALES.map((scale) => (
              <option key={scale} value={scale}>
                {formatQuantity(scale / 1000, 'km', system)}
              </option>
            ))}
          </select>{' '}
          wide
        </label>
        <Button disabled={corners.length === 0} onClick={() => setCorners(corners.slice(0, -1))}>
          Undo last corner
        </Button>
        <Button disabled={corners.length < 2} onClick={() => setCorners([...corners, corners[0]!])}>
          Close the loop
        </Button>
      </div>
      <div ref={box}>
        <svg
          width={width}
          height={HEIGHT}
          role="application"
          aria-label="Squared paper for drawing the course"
          style={{
            background: 'var(--surface)',
            border: '1px solid var(--hairline)',
            touchAction: 'none',
            cursor: 'crosshair',
          }}
          onPointerDown={put}
        >
          {Array.from({ length: 9 }, (_, k) => (
            <path key={k} d={`M${((k + 1) * width) / 10} 0V${HEIGHT}`} stroke="var(--band)" />
          ))}
          {Array.from({ length: Math.floor(HEIGHT / (gridM / perPx)) }, (_, k) => (
            <path key={k} d={`M0 ${HEIGHT - ((k + 1) * gridM) / perPx}H${width}`} stroke="var(--band)" />
          ))}
          <polyline
            points={corners.map((corner) => `${x(corner)},${y(corner)}`).join(' ')}
            fill="none"
            stroke="var(--acting)"
            strokeWidth={2.4}
          />
          {corners.map((corner, k) => (
            <circle
              key={k}
              cx={x(corner)}
              cy={y(corner)}
              r={k === 0 ? 6 : 4}
              fill={k === 0 ? 'var(--caution)' : 'var(--acting)'}
              stroke="var(--ink)"
            />
          ))}
        </svg>
      </div>
      <label className="block mt-10">
        Altitudes, one per line: distance (m), altitude (m)
        <Input.TextArea
          rows={3}
          value={text}
          placeholder={'0  14\n400  31\n1200  72'}
          onChange={({ target }) => setText(target.value)}
          status={altitudes === undefined ? 'error' : ''}
        />
      </label>
      {altitudes === undefined && <p role="alert">Each line needs two numbers, for example 400 31.</p>}
      {error !== undefined && <Problem error={error} />}
      <div className="actions mt-10">
        <Button
          type="primary"
          loading={isLoading}
          disabled={altitudes === undefined || (corners.length < 2 && altitudes.length < 2)}
          onClick={() =>
            void draw({
              id: course.id,
              version: course.version,
              corners: [...corners],
              altitudes: altitudes ?? [],
            }).then((result) => 'data' in result && result.data && onDone())
          }
        >
          Save the drawing
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </div>
    </div>
  );
}

/** Undefined while a line cannot be read. */
function readAltitudes(text: string): { distanceM: number; altitudeM: number }[] | undefined {
  const rows: { distanceM: number; altitudeM: number }[] = [];
  for (const line of text.split('\n').filter((one) => one.trim() !== '')) {
    const [distanceM, altitudeM, ...rest] = line
      .trim()
      .replaceAll(',', '.')
      .split(/[\s;]+/)
      .map(Number);
    if (rest.length > 0 || !Number.isFinite(distanceM) || !Number.isFinite(altitudeM) || distanceM! < 0)
      return undefined;
    rows.push({ distanceM: distanceM!, altitudeM: altitudeM! });
  }
  return rows;
}
