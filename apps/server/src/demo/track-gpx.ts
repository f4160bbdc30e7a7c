import { COURSES, type CourseKey } from './scenario.js';

/** A place in the open Atlantic, where no street and no house stands. */
const CENTRE = { latitude: 31.4, longitude: -45.2 };
const METRES_PER_DEGREE = 111_195;
const POINTS = 360;
const SHAPES = {
  level: { petals: 2, turn: 0.4 },
  hill: { petals: 3, turn: 1.9 },
  climb: { petals: 1, turn: 0.8 },
  quay: { petals: 0, turn: 0 },
  mill: { petals: 2, turn: 2.2 },
} as const satisfies Record<CourseKey, object>;

/** The course as a recorded track: a closed line with the course's length and profile. */
export function courseGpx(key: CourseKey): string {
  const { input, ride } = COURSES[key];
  const { petals, turn } = SHAPES[key];
  // Petals and a bulge, so that it looks like a way through streets and not like a circle.
  const radius = (angle: number): number =>
    1 + 0.28 * Math.cos(petals * angle + turn) + 0.12 * Math.sin(3 * angle) + 0.05 * Math.cos(7 * angle);
  const shape = Array.from({ length: POINTS + 1 }, (_, k) => {
    // A climb goes somewhere: half of the round, not back to where it began.
    if (key === 'quay') return { east: k / POINTS, north: (0.35 * k) / POINTS };
    const angle = ((input.kind === 'climb' ? 1 : 2) * Math.PI * k) / POINTS;
    return { east: radius(angle) * Math.cos(angle), north: 0.7 * radius(angle) * Math.sin(angle) };
  });
  const steps = shape
    .slice(1)
    .map((point, k) => Math.hypot(point.east - shape[k]!.east, point.north - shape[k]!.north));
  const scale = ride.lengthM / steps.reduce((sum, step) => sum + step, 0);
  let distance = 0;
  const points = shape.map((point, k) => {
    if (k > 0) distance += steps[k - 1]! * scale;
    const latitude = CENTRE.latitude + (point.north * scale) / METRES_PER_DEGREE;
    const longitude =
      CENTRE.longitude + (point.east * scale) / METRES_PER_DEGREE / Math.cos((CENTRE.latitude * Math.PI) / 180);
    return `<trkpt lat="${latitude.toFixed(6)}" lon="${longitude.toFixed(6)}"><ele>${altitudeAt(ride.profile, distance).toFixed(1)}</ele></trkpt>`;
  });
  return (
    `<?xml version="1.0" encoding="UTF-8"?>\n<gpx version="1.1" creator="Ebrix demo" xmlns="http://www.topografix.com/GPX/1/1">` +
    `<trk><name>${input.name}</name><trkseg>\n${points.join('\n')}\n</trkseg></trk></gpx>\n`
  );
}

function altitudeAt(profile: readonly { distanceM: number; altitudeM: number }[], distanceM: number): number {
  const next = Math.max(
    1,
    profile.findIndex((point) => point.distanceM >= distanceM),
  );
  const [a, b] = [profile[next - 1]!, profile[next]!];
  return a.altitudeM + ((b.altitudeM - a.altitudeM) * (distanceM - a.distanceM)) / (b.distanceM - a.distanceM);
}
