/** Columns of a notebook as testers keep it; a header is recognised by any of these words. */
export interface NotebookColumn {
  readonly key: string;
  readonly label: string;
  /** What goes into a cell, where the label does not say. */
  readonly hint?: string;
  readonly words: RegExp;
  /** Shown from the start; the rest when asked for or pasted. */
  readonly isUsual?: boolean;
}
const START = '(start|before|from|begin|anfang|vor|out)';
const END = '(end|after|to|finish|ende|nach|back)';

export const NOTEBOOK_COLUMNS = [
  { key: 'date', label: 'Day', hint: '2026-04-12', words: /^(date|day|datum|tag|when)$/, isUsual: true },
  { key: 'setup', label: 'Setup', words: /^(setup|kit|bike|conversion|motor|rad|umbau|fahrrad)$/, isUsual: true },
  {
    key: 'course',
    label: 'Course',
    hint: 'blank: on the road',
    words: /^(course|route|round|loop|where|strecke|runde|ort)$/,
    isUsual: true,
  },
  { key: 'test', label: 'Test', words: /^(test|kind|kind of test|art)$/ },
  {
    key: 'way',
    label: 'How ridden',
    hint: 'steady, light, hard, throttle, off',
    words: /^(way|how|how ridden|effort|riding|pedalling|fahrweise)$/,
    isUsual: true,
  },
  { key: 'level', label: 'Level', words: /^(level|assist|assist level|stufe|mode)$/ },
  {
    key: 'distance',
    label: 'Distance',
    words: /^(distance|trip|dist|km|mi|miles|strecke km|weg|tageskilometer)$/,
    isUsual: true,
  },
  { key: 'odometer', label: 'Odometer, before and after', hint: '1204 1213', words: /^(odometer|odo|counter)$/ },
  { key: 'odometerStart', label: 'Odometer before', words: new RegExp(`^(odometer|odo) ${START}$`) },
  { key: 'odometerEnd', label: 'Odometer after', words: new RegExp(`^(odometer|odo) ${END}$`) },
  {
    key: 'time',
    label: 'Time',
    hint: '0:25 or 25 min',
    words: /^(time|duration|minutes|min|stopwatch|zeit|dauer)$/,
    isUsual: true,
  },
  { key: 'mean', label: 'Average on display', words: /^(mean|avg|average|average speed|mean speed|schnitt|v mittel)$/ },
  { key: 'highest', label: 'Highest speed', words: /^(max|highest|max speed|top speed|top|vmax|v max)$/ },
  {
    key: 'highestBack',
    label: 'Highest speed, way back',
    words: /^(max back|highest back|max speed back|top speed back|vmax back)$/,
  },
  { key: 'lowest', label: 'Lowest speed', words: /^(lowest|min speed|vmin|lowest speed)$/ },
  {
    key: 'bars',
    label: 'Bars, before and after',
    hint: '5 3',
    words: /^(bars|leds|gauge|balken|lights)$/,
    isUsual: true,
  },
  { key: 'barsStart', label: 'Bars before', words: new RegExp(`^(bars|leds|gauge|balken) ${START}$`) },
  { key: 'barsEnd', label: 'Bars after', words: new RegExp(`^(bars|leds|gauge|balken) ${END}$`) },
  {
    key: 'barsOut',
    label: 'A bar went out',
    hint: '4 left at 6.2, 3 left at 13',
    words: /^(bar went out|bars out|bar out)$/,
  },
  {
    key: 'percent',
    label: 'Per cent, before and after',
    hint: '100 62',
    words: /^(percent|per cent|%|soc|charge|akku)$/,
  },
  {
    key: 'volts',
    label: 'Volts at rest, before and after',
    hint: '41.8 38.2',
    words: /^(volts|v|rest volts|voltage|spannung|rest voltage)$/,
    isUsual: true,
  },
  { key: 'voltsStart', label: 'Volts before', words: new RegExp(`^(volts|v|voltage|rest volts|spannung) ${START}$`) },
  { key: 'voltsEnd', label: 'Volts after', words: new RegExp(`^(volts|v|voltage|rest volts|spannung) ${END}$`) },
  {
    key: 'socket',
    label: 'Socket energy, Wh',
    words: /^(socket|wall|wall wh|socket wh|charged|charged wh|socket energy|geladen|wh)$/,
  },
  { key: 'power', label: 'Highest power, W', words: /^(power|max power|watts|w|highest power|leistung)$/ },
  { key: 'current', label: 'Highest current, A', words: /^(current|max current|amps|a|highest current|strom)$/ },
  {
    key: 'heart',
    label: 'Heart rate, mean and highest',
    hint: '132 158',
    words: /^(heart|heart rate|hr|pulse|bpm|puls)$/,
  },
  { key: 'felt', label: 'Effort felt, 0 to 10', words: /^(felt|felt effort|rpe|exertion|anstrengung)$/ },
  {
    key: 'touch',
    label: 'Motor by hand',
    hint: 'cool, warm, hot, cannot be held',
    words: /^(touch|motor|motor by hand|motor heat|hand)$/,
  },
  { key: 'air', label: 'Air, °C', words: /^(air|air temperature|temperature|temp|luft)$/ },
  { key: 'payload', label: 'Payload, kg', words: /^(payload|load|luggage|zuladung)$/ },
  {
    key: 'helpAfter',
    label: 'Help felt after, s',
    hint: '0.8 1.1 0.9',
    words: /^(help after|help|assist delay|delay|latency)$/,
  },
  { key: 'runOn', label: 'Runs on, s', hint: '0.6 0.5', words: /^(run on|runs on|overrun)$/ },
  { key: 'brakeCut', label: 'Brake cuts after, s', hint: '0.3 0.3', words: /^(brake|brake cut|brake cut off)$/ },
  { key: 'cutBacks', label: 'Motor cut back, times', words: /^(cut backs|cutbacks|cut back)$/ },
  {
    key: 'chargeHours',
    label: 'Hours on the charger',
    hint: '4.5',
    words: /^(charge hours|hours|charge time|ladezeit)$/,
  },
  { key: 'emptied', label: 'Until empty', hint: 'yes or blank', words: /^(until empty|emptied|empty|leer)$/ },
  { key: 'notes', label: 'Notes', words: /^(notes|note|remarks|comment|bemerkung|wind)$/ },
] as const satisfies readonly NotebookColumn[];
export type NotebookKey = (typeof NOTEBOOK_COLUMNS)[number]['key'];
export type NotebookCells = Readonly<Partial<Record<NotebookKey, string>>>;

/** The column a header means, with the unit it names; null for one that is not known. */
export function columnOf(header: string): { readonly key: NotebookKey; readonly unit: string } | null {
  const bare = header.trim().toLowerCase();
  const unit = /[([]([^)\]]+)[)\]]\s*$/.exec(bare)?.[1] ?? /,\s*([a-z/%°]+)$/.exec(bare)?.[1] ?? '';
  const words = bare
    .replace(/[([][^)\]]*[)\]]\s*$/, '')
    .replace(/,\s*[a-z/%°]+$/, '')
    .replace(/[_\-.:]+/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();
  const found = NOTEBOOK_COLUMNS.find(({ words: known, label }) => known.test(words) || label.toLowerCase() === bare);
  const named = found ?? NOTEBOOK_COLUMNS.find(({ label }) => label.toLowerCase() === words);
  return named ? { key: named.key, unit: unit || (/^(mi|miles)$/.test(words) ? 'mi' : '') } : null;
}
