import { isConverted, isFrontHub, isHub, type SetupFacts } from './facts.js';
import { packPlace } from './total-mass.js';

/** One step of fitting, before it is begun. */
export interface FittingStepPlan {
  /** Stable within a kit family, so that the same step of two kits can be compared. */
  readonly id: string;
  readonly title: string;
  readonly detail: string;
  readonly tools: readonly string[];
  /** Shown where the hand is about to act; empty when there is none. */
  readonly caution: string;
}

/** Anchors of the scale on which the difficulty of a step is noted. */
export const DIFFICULTY_ANCHORS = [
  'By hand, no doubt at any point',
  'Ordinary tools, fits as supplied',
  'Has to be adjusted or tried twice',
  'A part had to be changed or made to fit',
  'Help or a special tool was needed',
] as const;

/** Steps in the order of the work, made from what the setup is; none for a bike that is not converted. */
export function fittingSteps(setup: SetupFacts): FittingStepPlan[] {
  if (!isConverted(setup)) return [];
  const { bike, kit, packs, addOns } = setup;
  const isRearHub = isHub(kit) && !isFrontHub(kit);
  const motorBrake = isFrontHub(kit) ? bike.frontBrake : bike.rearBrake;
  const has = (kind: string): boolean => addOns.some((addOn) => addOn.kind === kind);
  const steps: (FittingStepPlan | false)[] = [
    {
      id: 'unpack',
      title: 'Unpack, weigh and photograph',
      detail: 'Compare the box with the list of the kit. Weigh bike and parts on the scale.',
      tools: ['scale', 'camera'],
      caution: '',
    },
    {
      id: 'stand',
      title: 'Bike on the stand, battery away',
      detail: 'Clean the dropouts or the shell. Photograph cables and washers as they are.',
      tools: ['stand', 'rag'],
      caution: 'No battery near the bike while cables are open.',
    },
    ...(isHub(kit)
      ? [
          {
            id: 'wheel-out',
            title: isRearHub ? 'Remove the rear wheel' : 'Remove the front wheel',
            detail: 'Measure the dropout width and the slot with the caliper before the motor goes in.',
            tools: ['spanners', 'caliper'],
            caution: '',
          },
          isRearHub && {
            id: 'cogs',
            title: `Move ${bike.cogMount === 'cassette' ? 'the cassette' : 'the freewheel'} to the motor`,
            detail: 'Spacers behind it as the checks say: chain off the motor’s cover and off the frame.',
            tools: [bike.cogMount === 'cassette' ? 'lockring tool' : 'freewheel tool', 'chain whip', 'spacers'],
            caution: 'Fingers clear of the cogs when the tool slips.',
          },
          motorBrake === 'disc' && {
            id: 'disc',
            title: 'Brake disc on the motor',
            detail: 'Turn the wheel before and after tightening: it must feel the same.',
            tools: ['star key', 'torque wrench', 'thread lock'],
            caution: 'Bolts that are too long bite into the motor’s cover.',
          },
          {
            id: 'tyre',
            title: 'Rim tape, tube and tyre',
            detail: 'Direction of the tyre, pressure as marked.',
            tools: ['tyre levers', 'pump'],
            caution: '',
          },
          {
            id: 'wheel-in',
            title: 'Motor wheel in, washers, torque arm',
            detail: 'Inner washers as the checks say. Torque arm on the flats, its end clamped. Cable leaves downward.',
            tools: ['torque wrench', 'spanners', 'washers'],
            caution: 'Without a torque arm the axle spins out, tears its cable and drops the wheel.',
          },
        ]
      : [
          {
            id: 'cranks-off',
            title: 'Cranks and bottom bracket off',
            detail: 'Mark left and right. Clean and grease the shell’s threads.',
            tools: ['crank puller', 'bottom-bracket tool'],
            caution: 'The drive side often has a left-hand thread.',
          },
          {
            id: 'motor-in',
            title: 'Mid motor into the shell',
            detail: 'Spacers as the checks say. Mounting ring, then lock nut. The motor rests against the frame.',
            tools: ['ring spanner of the kit', 'torque wrench', 'spacers'],
            caution: 'Do not pinch the speed-sensor cable between motor and frame.',
          },
          {
            id: 'chainring',
            title: 'Chainring, cranks and chain line',
            detail: 'Measure the chain line; shift through all gears by hand.',
            tools: ['crank bolts key', 'caliper'],
            caution: '',
          },
          {
            id: 'speed-sensor',
            title: 'Speed sensor and magnet',
            detail: 'Gap as the maker says; the magnet passes the mark.',
            tools: ['screwdriver'],
            caution: '',
          },
        ]),
    (has('cooling-fluid') || has('cooling-fins')) && {
      id: 'cooling',
      title: has('cooling-fluid') ? 'Cooling fluid' : 'Cooling fins',
      detail: has('cooling-fluid')
        ? 'Dose with a syringe as planned. Too much drags: compare the spin-down time before and after.'
        : 'Degrease the cover, paste, clamp.',
      tools: has('cooling-fluid') ? ['syringe', 'gloves', 'rag'] : ['hex keys', 'thermal paste'],
      caution: has('cooling-fluid')
        ? 'Fluid on a brake disc or pad: do not ride; clean the disc, replace the pad.'
        : '',
    },
    {
      id: 'battery-mount',
      title: batteryMountTitle(setup),
      detail: 'Slide the pack in and out once: room to take it out, nothing rubs. Add the strap.',
      tools: packs.some(({ mountKind }) => mountKind === 'rivet-nuts')
        ? ['drill', 'rivet-nut tool', 'hex keys']
        : ['hex keys'],
      caution: packs.some(({ mountKind }) => mountKind === 'rivet-nuts')
        ? 'Drill steel or aluminium only, never a carbon or thin-walled tube, never with the pack in place.'
        : '',
    },
    kit.controllerPlace !== 'inside' && {
      id: 'controller',
      title: 'Controller',
      detail: 'Cooling side free to the air, cables downward, away from the crank.',
      tools: ['hex keys', 'cable ties'],
      caution: '',
    },
    kit.sensor !== 'none' && {
      id: 'crank-sensor',
      title: kit.sensor === 'torque' ? 'Torque sensor' : 'Crank sensor',
      detail: 'Magnet side and gap as the maker says.',
      tools: ['crank puller'],
      caution: '',
    },
    {
      id: 'cockpit',
      title: `Display${kit.throttle !== null && kit.throttle !== 'none' ? ', throttle' : ''} and levers`,
      detail: 'Throttle returns by itself from every position; levers reach the bar with travel left.',
      tools: ['hex keys'],
      caution:
        kit.throttle !== null && kit.throttle !== 'none' ? 'A throttle that sticks runs away with the rider.' : '',
    },
    kit.brakeSwitches !== 'none' && {
      id: 'brake-switches',
      title: kit.brakeSwitches === 'in-line' ? 'In-line brake sensors' : 'Brake levers with switches',
      detail: 'The switch closes before the pad touches. Set the brake again.',
      tools: ['hex keys', 'cable cutter'],
      caution: 'Both brakes must work before the next step.',
    },
    {
      id: 'cables',
      title: 'Cables and plugs',
      detail: bike.isFolding
        ? 'Along the side of the hinge; fold once slowly. Arrows face arrows; drip loop; slack at the hub.'
        : 'Arrows face arrows, push without turning. Drip loop; slack at the hub; steer from lock to lock.',
      tools: ['cable ties'],
      caution: 'Swapped plus and minus destroy the controller: check the pins with a meter before joining.',
    },
    packs.length > 1 && {
      id: 'join-packs',
      title: 'Join the packs',
      detail: 'Both full and rested. Measure both, write the voltages into the setup, look at the check.',
      tools: ['voltmeter', 'joiner'],
      caution: 'Never join packs at different voltages.',
    },
    {
      id: 'power-on',
      title: 'First power-on, wheel off the ground',
      detail: 'Lowest level. Direction, noise, binding, brake cut-off: see the stand test.',
      tools: ['stand'],
      caution: 'Hands, laces and cables clear of the wheel.',
    },
    {
      id: 'settings',
      title: 'Settings',
      detail: 'Wheel size, units, limits, levels: as on the settings sheet.',
      tools: [],
      caution: '',
    },
  ];
  return steps.filter((step): step is FittingStepPlan => step !== false);
}

function batteryMountTitle({ packs }: SetupFacts): string {
  const place = packs[0] ? packPlace(packs[0]) : 'frame';
  switch (place) {
    case 'rear-rack':
    case 'front-rack':
      return 'Battery on the rack';
    case 'trailer':
      return 'Battery on the trailer';
    case 'handlebar':
      return 'Battery bag on the handlebar';
    case 'frame':
    case 'front-wheel':
    case 'rear-wheel':
      return 'Battery mount in the frame';
  }
}
