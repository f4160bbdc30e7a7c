import type { TestKind } from './test-kinds.js';

/** One short page for a kind of test, for the screen and for paper. */
export interface HowToRide {
  readonly answers: string;
  readonly withLogger: string;
  readonly withoutLogger: string;
  readonly steps: readonly string[];
  readonly note: readonly string[];
  /** What goes wrong, and how it is noticed. */
  readonly mistakes: readonly (readonly [mistake: string, noticed: string])[];
  readonly cautions: readonly string[];
}

const ROAD = 'Helmet on; open roads with their traffic, or private ground. Your local rules come first.';
const STOP = 'Stop at once on a smell, a rubbing noise, a loose part or a motor that does not obey the brake lever.';

/** What holds where runs use part of a charge each. */
export const PART_WAY_RULES =
  'Part of a charge: start every run of the trial at about the same charge, between 90 and 40 %, rested, and note the volts; it gives consumption, and the range only by way of it.';

/** How each of the nine tests is ridden, with and without a logger. */
export const HOW_TO_RIDE: Readonly<Record<TestKind, HowToRide>> = {
  range: {
    answers: 'How much energy a kilometre takes in this way of riding, and so how far a charge goes.',
    withLogger: 'Volts, amps and distance (or speed) once a second or faster.',
    withoutLogger:
      'Trip or odometer, bars or rest volts before and after, a watch; a socket meter is better than bars.',
    steps: [
      'Start from a full pack, or note where it starts: part of a charge does for consumption, only the whole shows the range.',
      'Pump the tyres to the same pressure, set the level, set the trip to zero.',
      'Read bars and volts at rest: half an hour after the charger, no load.',
      'Ride the course in one way of pedalling, one level, one pace. Ten kilometres say more than three.',
      'Stop, wait ten minutes, read bars, volts and trip; later what the socket gives back.',
    ],
    note: [
      'level, way of pedalling, load, tyre pressure',
      'air temperature, wind and from where',
      'every stop longer than a minute',
      'when a bar went out, by kilometre',
    ],
    mistakes: [
      [
        'Volts read right after riding',
        'the pack recovers for minutes: energy comes out too large, and rest volts disagree with the bars',
      ],
      ['A short ride judged by bars', 'the step of the gauge is in the interval: it comes out wide'],
      ['The other setup ridden on another day', 'the verdict says that day and setup cannot be told apart'],
    ],
    cautions: [ROAD, STOP, 'A pack that cuts off leaves you without lights: carry others.'],
  },
  'assist-levels': {
    answers: 'What each level gives in speed, power and consumption.',
    withLogger: 'Volts, amps and speed; the level too, or note when you changed it.',
    withoutLogger: 'The display’s steady speed and watts at each level, one line of paper each.',
    steps: [
      'A flat stretch without stops, ridden the same way at each level.',
      'Hold each level until the speed has settled, then half a minute more.',
      'Go up the levels and down again: warm motor and emptier pack then cancel.',
    ],
    note: ['level, steady speed, typical watts', 'gear, and that it stayed the same', 'wind'],
    mistakes: [
      ['Pedalling harder at low levels', 'rider power differs between the levels: the run says so where it was logged'],
      ['Too short at one level', 'no steady stretch is found there, and the level is left out'],
    ],
    cautions: [ROAD, STOP],
  },
  'top-speed': {
    answers: 'How fast it goes on the level, wind taken out.',
    withLogger: 'Speed by wheel or position; volts help.',
    withoutLogger: 'A marked distance and a stopwatch both ways, or the highest speed on the display both ways.',
    steps: [
      'A flat, straight, empty strip with room to stop at both ends.',
      'Reach full speed before the first mark, hold it to the second.',
      'Turn and ride back at once, the same gear and crouch. Two passes each way are better.',
    ],
    note: ['gear, seated or crouched', 'volts at the start: speed follows them', 'one way only, if that is all'],
    mistakes: [
      ['One direction only', 'the figure is marked: wind and slope are in it'],
      ['Still speeding up at the first mark', 'the pass shows a rising speed, and is flagged'],
    ],
    cautions: [ROAD, STOP, 'Above the legal assist speed only on private ground, with both brakes tried before.'],
  },
  'hill-climb': {
    answers: 'How it climbs: time, lowest speed, energy for 100 m of height, how warm the motor gets.',
    withLogger: 'Volts, amps, speed; altitude or a course with its profile.',
    withoutLogger: 'Stopwatch, lowest speed on the display, the hand on the hub at the top.',
    steps: [
      'Let the motor cool to the air before each climb.',
      'Roll at a set speed over the lower mark, one level, one way of pedalling to the upper.',
      'At the top: stopwatch, lowest speed seen, heat of the motor, then roll down without heating it again.',
    ],
    note: ['load and rider', 'gear', 'whether the motor cut back, and where'],
    mistakes: [
      ['A warm start', 'later climbs are slower or hotter: the order of the plan spreads that'],
      ['Changing gear half-way', 'note it: the way of riding differs and runs stand apart'],
    ],
    cautions: [
      ROAD,
      STOP,
      'A hub motor that labours near walking pace burns: stop below 8 km/h (5 mph).',
      'A hub can be too hot to touch: the back of the hand first.',
    ],
  },
  'assist-response': {
    answers: 'How soon help comes, how smoothly, how long it runs on, how soon the brake cuts it.',
    withLogger: 'Ten samples a second: amps and speed, with cadence, throttle or brake where there are any.',
    withoutLogger: 'Count or time it over five starts: quarter turns of the crank, or a stopwatch in the thumb.',
    steps: [
      'Five standing starts in one gear, counting until the push is felt.',
      'Stop pedalling at a steady speed, time the push that goes on.',
      'Pull the lever under power, time until it is gone.',
    ],
    note: ['each time by itself, not their mean', 'gear and level'],
    mistakes: [
      ['A logger of one sample a second', 'the latency is no finer than the logger, and its interval says so'],
      ['Rolling starts', 'no standstill is found before the start, and it is left out'],
    ],
    cautions: [
      STOP,
      'Room ahead, a foot on the ground, the front wheel straight: a kit may push harder than expected.',
    ],
  },
  heating: {
    answers: 'How hot it gets under a load, how long that can be held, how fast it cools.',
    withLogger: 'Motor temperature, volts and amps.',
    withoutLogger: 'A thermometer, or the hand, before, at each stop and while it cools.',
    steps: [
      'Start cold: the motor at the temperature of the air.',
      'Hold one load; read at stops a few minutes apart, always on the same spot.',
      'Then leave it, and read on while it cools, four times over half an hour.',
    ],
    note: ['air temperature', 'spot of reading', 'each cut-back and when'],
    mistakes: [
      ['Stopped long before it settled', 'the settled rise is given as an interval that says so'],
      ['The housing taken for the winding', 'it is marked: the winding is tens of degrees hotter under load'],
    ],
    cautions: [
      STOP,
      'Above 60 °C (140 °F) a hand burns: the back of the hand first, a moment only.',
      'End at the limit you set: magnets and gears do not come back.',
    ],
  },
  battery: {
    answers: 'What the pack really holds, how its volts fall under load, how its gauge relates to that.',
    withLogger: 'Volts and amps from full to cut-off, with rests.',
    withoutLogger: 'A socket meter and the hours of the charge; rest volts at each bar.',
    steps: [
      'Charge full, let it rest half an hour.',
      'Ride or load it steadily to cut-off; at each bar stop for a rest and read the volts.',
      'Charge it again with the meter; note from when to when.',
    ],
    note: ['when a bar went out, by kilometre', 'volts at rest and under load', 'room temperature'],
    mistakes: [
      ['Not full at the start', 'the capacity comes out short; the volts at the start are looked at'],
      ['Charged unattended', 'a time to full that nobody saw is a guess'],
    ],
    cautions: [
      'Its own charger only, attended, not below freezing; a warm, swollen or dropped pack is put outside.',
      'Work inside a pack or on mains is for those licensed for it.',
    ],
  },
  'coast-down': {
    answers: 'Drag and rolling of bike and rider, by which rides are put on one footing.',
    withLogger: 'Speed five times a second or more; it needs a logger.',
    withoutLogger: 'Two marks and a stopwatch give a time, not drag and rolling apart.',
    steps: [
      'A smooth level strip, calm air.',
      'Reach speed, then roll: motor off, no brake, no pedalling, the same crouch.',
      'Both directions in turns, three times each.',
    ],
    note: ['tyre pressure, clothes, load', 'wind'],
    mistakes: [
      ['A direct-drive hub with the controller on', 'its drag is in the rolling, and the two cannot be told apart'],
      ['A slight slope', 'both directions are fitted with a slope of their own'],
    ],
    cautions: [ROAD, STOP],
  },
  stand: {
    answers: 'No-load speed and current: what the winding is, and whether anything rubs.',
    withLogger: 'Volts, amps and wheel speed.',
    withoutLogger: 'The display’s speed at full throttle, volts, and how long the wheel turns on.',
    steps: [
      'Wheel off the ground, bike held fast.',
      'Full throttle until the speed is steady, then off.',
      'Wait until the wheel stands.',
    ],
    note: ['volts at full throttle', 'noise, rubbing, wobble'],
    mistakes: [['Wheel set wrong in the display', 'no-load speed and winding disagree, and it is said by what factor']],
    cautions: ['Hands, laces, cables and children clear of the wheel; nobody behind it.', STOP],
  },
};
