import { asLabel, CHEMISTRY_NAMES, choice, CLAIMS, MASS, NAME, NOTES, number, PRICE, type PartForm } from './field.js';

export const PACK_FORM: PartForm = {
  one: 'pack',
  many: 'Packs',
  teach: 'The batteries. A measured energy makes every range figure surer than the label does.',
  groups: [
    {
      title: 'Pack',
      fields: [
        NAME('Marrow 36 V 13 Ah'),
        choice('chemistry', 'Chemistry', CHEMISTRY_NAMES, { isColumn: true }),
        { name: 'seriesCells', label: 'Cells in series', kind: 'whole', isColumn: true },
        { name: 'parallelCells', label: 'Cells in parallel', kind: 'whole' },
        number('nominalVoltageV', 'Nominal voltage', 'V', { isColumn: true }),
        number('capacityAh', 'Capacity on the label', 'Ah', { isColumn: true }),
        MASS,
        PRICE,
      ],
    },
    {
      title: 'Energy',
      use: 'Range',
      fields: [
        number('usableShare', 'Usable share', '%', { help: 'Empty: what is usual for the chemistry' }),
        number('measuredEnergyWh', 'Measured energy', 'Wh', {
          help: 'From full to cut-off, if it was measured',
          isColumn: true,
        }),
        number('measuredEnergyUncertaintyWh', '± of the measurement', 'Wh'),
        choice('gaugeKind', 'Gauge', asLabel('none', 'lights', 'bars', 'percent', 'voltage')),
        { name: 'gaugeSteps', label: 'Steps of the gauge', kind: 'whole' },
      ],
    },
    {
      title: 'Protection and connections',
      use: 'Current, cut-off, charging, packs in parallel',
      fields: [
        number('protectionContinuousA', 'Protection carries', 'A', { isColumn: true }),
        number('protectionPeakA', 'Protection bears as a peak', 'A'),
        number('protectionCutoffV', 'Its cut-off', 'V'),
        number('maxChargeA', 'Highest charge current', 'A'),
        number('resistanceOhm', 'Inner resistance', 'Ω'),
        number('connectorA', 'Connector rated for', 'A'),
        number('fuseA', 'Fuse', 'A'),
      ],
    },
    {
      title: 'Size and mount',
      use: 'Room in the frame, rack load',
      fields: [
        number('lengthMm', 'Length', 'mm'),
        number('heightMm', 'Height', 'mm'),
        number('widthMm', 'Width', 'mm'),
        number('railMm', 'Height of its rail', 'mm'),
        choice(
          'mountKind',
          'Mount',
          asLabel('bosses', 'rivet-nuts', 'straps', 'glued', 'rear-rack', 'front-rack', 'bag', 'trailer'),
        ),
      ],
    },
    CLAIMS,
    { title: 'Notes', fields: [NOTES] },
  ],
};
