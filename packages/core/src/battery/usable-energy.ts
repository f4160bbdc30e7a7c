/** Share of the nominal energy that a pack gives between full and cut-off at 20 °C, with the half-width of what is usual. */
export const CHEMISTRIES = {
  'li-ion-nmc': {
    label: 'lithium-ion (NMC/NCA)',
    usableShare: 0.93,
    limit: 0.05,
    coldLossPerK: 0.006,
    nominalCellV: 3.6,
    fullCellV: 4.2,
  },
  'li-ion-lfp': {
    label: 'lithium iron phosphate',
    usableShare: 0.95,
    limit: 0.05,
    coldLossPerK: 0.009,
    nominalCellV: 3.2,
    fullCellV: 3.65,
  },
  'lead-acid': {
    label: 'lead-acid',
    usableShare: 0.55,
    limit: 0.1,
    coldLossPerK: 0.01,
    nominalCellV: 2,
    fullCellV: 2.45,
  },
} as const;
export type Chemistry = keyof typeof CHEMISTRIES;

const REFERENCE_C = 20;
/** The cold factor is a rule, not a measurement: half of the loss either way. */
const COLD_DOUBT = 0.5;

export interface UsableEnergy {
  readonly energyWh: number;
  readonly standardUncertaintyWh: number;
  readonly source: string;
}

export interface PackKnowledge {
  /** Measured in a capacity test; wins over the label. */
  readonly measuredEnergyWh?: number;
  readonly measuredEnergyUncertaintyWh?: number;
  readonly capacityAh?: number;
  readonly nominalVoltageV?: number;
  readonly usableShare?: number;
  readonly chemistry?: Chemistry;
  readonly temperatureC?: number;
}

/**
 * Usable energy of a pack: measured if there is a measurement, else label × usable share × cold factor.
 * Undefined when neither a measurement nor capacity and voltage are known.
 */
export function usableEnergy(pack: PackKnowledge): UsableEnergy | undefined {
  const { measuredEnergyWh, capacityAh, nominalVoltageV, temperatureC } = pack;
  if (measuredEnergyWh !== undefined)
    return {
      energyWh: measuredEnergyWh,
      standardUncertaintyWh: pack.measuredEnergyUncertaintyWh ?? 0.02 * measuredEnergyWh,
      source: 'measured capacity',
    };
  if (capacityAh === undefined || nominalVoltageV === undefined) return undefined;
  const chemistry = CHEMISTRIES[pack.chemistry ?? 'li-ion-nmc'];
  const share = pack.usableShare ?? chemistry.usableShare;
  const coldLoss =
    temperatureC === undefined ? 0 : Math.min(0.4, Math.max(0, REFERENCE_C - temperatureC) * chemistry.coldLossPerK);
  const nominal = capacityAh * nominalVoltageV;
  const energyWh = nominal * share * (1 - coldLoss);
  const shareUncertainty = (nominal * (1 - coldLoss) * chemistry.limit) / Math.sqrt(3);
  const coldUncertainty = (nominal * share * coldLoss * COLD_DOUBT) / Math.sqrt(3);
  return {
    energyWh,
    standardUncertaintyWh: Math.hypot(shareUncertainty, coldUncertainty),
    source: `label ${capacityAh} Ah × ${nominalVoltageV} V × usable share ${share}${coldLoss > 0 ? ` × cold factor ${(1 - coldLoss).toFixed(2)}` : ''}`,
  };
}
