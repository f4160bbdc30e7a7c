import {
  asLabel,
  CHEMISTRY_NAMES,
  choice,
  CLAIMS,
  MASS,
  NAME,
  NOTES,
  number,
  PLUGS,
  PRICE,
  type PartForm,
} from './field.js';

export const PACK_FORM: PartForm = {
  one: 'pack',
  many: 'Packs',
  teach: 'The batteries. A measured energy makes every range figure more certain than the label.',
  groups: [
    {
      title: 'Pack',
      fields: [
        NAME('Fennock 44 V 11.6 Ah'),
        choice('chemistry', 'Chemistry', CHEMISTRY_NAMES, { isColumn: true }),
        {
          name: 'blocks',
          label: 'Blocks in series',
          kind: 'blocks',
          when: ({ chemistry }) => chemistry === 'lead-acid',
        },
        { name: 'seriesCells', label: 'Cells in series', kind: 'whole', isColumn: true },
        { name: 'parallelCells', label: 'Cells in parallel', kind: 'whole' },
        number('nominalVoltageV', 'Nominal voltage', 'V', { isColumn: true }),
        number('capacityAh', 'Rated capacity', 'Ah', { isColumn: true }),
        MASS,
        PRICE,
      ],
    },
    {
      title: 'Energy',
      use: 'Range',
      fields: [
        number('usableShare', 'Usable share', '%', { help: 'Leave blank for the usual value' }),
        number('measuredEnergyWh', 'Measured energy', 'Wh', {
          help: 'Full to cut-off, if measured',
          isColumn: true,
        }),
        number('measuredEnergyUncertaintyWh', 'Measurement uncertainty ±', 'Wh'),
        choice('gaugeKind', 'Gauge', asLabel('none', 'lights', 'bars', 'percent', 'voltage')),
        { name: 'gaugeSteps', label: 'Number of gauge bars', kind: 'whole' },
      ],
    },
    {
      title: 'BMS and connections',
      use: 'Current, cut-off, charging, packs in parallel',
      fields: [
        number('protectionContinuousA', 'BMS continuous current', 'A', { isColumn: true }),
        number('protectionPeakA', 'BMS peak current', 'A'),
        number('protectionCutoffV', 'BMS cut-off voltage', 'V'),
        number('maxChargeA', 'Maximum charge current', 'A'),
        number('resistanceOhm', 'Internal resistance', 'Ω'),
        number('connectorA', 'Connector rated for', 'A', { sizes: PLUGS }),
        number('fuseA', 'Fuse', 'A'),
      ],
    },
    {
      title: 'Size and mount',
      use: 'Space in the frame, rack load',
      fields: [
        number('lengthMm', 'Length', 'mm'),
        number('heightMm', 'Height', 'mm'),
        number('widthMm', 'Width', 'mm'),
        number('railMm', 'Rail height', 'mm'),
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
