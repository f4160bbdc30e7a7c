import { checkSetup, clearanceItems } from '@ebrix/core/bench';
import type {
  Course,
  ImportFile,
  MappingDto,
  Outing,
  Part,
  PartKind,
  Setup,
  SetupDetail,
  Trial,
} from '@ebrix/contract';
import { toFacts } from '../setups/revision-facts.js';
import { startTestApp, type TestApp } from './test-app.js';

export type { TestApp };

export interface Bench {
  readonly bike: Part;
  readonly kit: Part;
  readonly pack: Part;
  readonly course: Course;
  readonly outing: Outing;
  /** Ready to ride, all that would keep it from that being waived, unless it is not to be. */
  addSetup(name: string, options?: { isCleared: boolean }): Promise<SetupDetail>;
  /** What a run of this setup is assigned to. */
  assignment(setup: Setup): { setupRevisionId: string; courseId: string; outingId: string };
  /** A trial of net consumption on the bench's course. */
  addTrial(question: string, setups: readonly Setup[]): Promise<Trial>;
  /** Brings a ride in through the import and gives back its run's id. */
  addRun(csv: string, setup: Setup, fileName?: string): Promise<string>;
}

const PATIENCE_MS = 120_000;

/** The server with a bench, for a test file to begin with. */
export async function startTestBench(): Promise<{ server: TestApp; bench: Bench }> {
  const server = await startTestApp();
  return { server, bench: await makeBench(server) };
}

/** A bench with one of each part, and the doors a tester uses to add setups and runs. */
export async function makeBench({ api }: TestApp): Promise<Bench> {
  const add = async (kind: PartKind, body: object): Promise<Part> =>
    (await api.post(`/api/bench/${kind}`).send(body).expect(201)).body as Part;
  const bike = await add('bikes', { name: 'Round bike', massKg: 24, dragAreaM2: 0.6, rollingCoefficient: 0.007 });
  const kit = await add('kits', { name: 'Corvane R2', motorKind: 'rear-hub-geared', massKg: 4 });
  const pack = await add('packs', {
    name: 'Fennock 52',
    chemistry: 'li-ion-nmc',
    nominalVoltageV: 48,
    capacityAh: 14,
    massKg: 3.5,
  });
  const course = (
    await api
      .post('/api/courses')
      .send({ name: 'Level round', kind: 'loop', surface: 'asphalt', lengthM: 2000 })
      .expect(201)
  ).body as Course;
  const outing = (
    await api
      .post('/api/outings')
      .send({ title: 'Morning 1', date: '2026-04-07', airTemperatureC: 12, windMps: 2 })
      .expect(201)
  ).body as Outing;
  const assignment: Bench['assignment'] = (setup) => ({
    setupRevisionId: setup.revisions[0]!.id,
    courseId: course.id,
    outingId: outing.id,
  });
  return {
    bike,
    kit,
    pack,
    course,
    outing,
    assignment,
    async addSetup(name, { isCleared } = { isCleared: true }) {
      const revision = { bikeId: bike.id, kitId: kit.id, packIds: [pack.id], settings: {}, change: 'As first fitted' };
      const setup = (await api.post('/api/setups').send({ name, revision }).expect(201)).body as SetupDetail;
      if (isCleared) await waiveAll({ api }, setup);
      return setup;
    },
    async addTrial(question, setups) {
      const trial = {
        question,
        decidingFigure: 'netConsumption',
        smallestDifference: { kind: 'relative', value: 0.05 },
        courseId: course.id,
        revisionIds: setups.map(({ revisions }) => revisions[0]!.id),
      };
      return (await api.post('/api/trials').send(trial).expect(201)).body as Trial;
    },
    async addRun(csv, setup, fileName = 'ride.csv') {
      const [file] = (await api.post('/api/imports').attach('files', Buffer.from(csv), fileName).expect(201))
        .body as ImportFile[];
      const { runId } = await importOne({ api }, file!.id, assignment(setup), file!.inspection?.mapping ?? null);
      return runId!;
    },
  };
}

/** Waives in writing all that keeps the newest revision from being ridden. */
export async function waiveAll({ api }: Pick<TestApp, 'api'>, { revisions }: SetupDetail): Promise<void> {
  const facts = toFacts(revisions[0]!);
  const checks = checkSetup(facts);
  const ids = [
    ...checks.filter(({ severity, state }) => severity === 'stop' && state !== 'passed'),
    ...clearanceItems(facts, checks, []).filter(({ isComputed }) => !isComputed),
  ].map(({ id }) => id);
  // One by one, as a person would have to.
  for (const id of ids)
    await api
      .post(`/api/revisions/${revisions[0]!.id}/marks`)
      .send({ ids: [id], kind: 'waived', by: 'Ottoline Vask', reason: 'For a test only.' })
      .expect(200);
}

/** Starts one staged file and waits for its end, whatever that is. */
export async function importOne(
  { api }: Pick<TestApp, 'api'>,
  importId: string,
  assignment: object,
  mapping: MappingDto | null,
  profileName: string | null = null,
  parts: readonly object[] = [],
): Promise<ImportFile> {
  await api
    .post('/api/imports/start')
    .send({ items: [{ importId, mapping, assignment, profileName, parts }] })
    .expect(202);
  const until = Date.now() + PATIENCE_MS;
  while (Date.now() < until) {
    const file = ((await api.get('/api/imports')).body as ImportFile[]).find(({ id }) => id === importId);
    if (file && !['staged', 'queued', 'working'].includes(file.status)) return file;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error('the import did not end');
}
