/** Where the energy came from and went, J; `imbalanceShare` is what does not add up, as a share of the input. */
export interface EnergyBook extends Readonly<RunningBook> {
  readonly kineticJ: number;
  readonly potentialJ: number;
  readonly imbalanceShare: number;
}

/** What adds up step by step, J. */
export interface RunningBook {
  chemicalJ: number;
  riderJ: number;
  dragJ: number;
  rollingJ: number;
  brakesJ: number;
  batteryLossJ: number;
  controllerLossJ: number;
  copperLossJ: number;
  ironLossJ: number;
  drivetrainLossJ: number;
}

export function emptyBook(): RunningBook {
  return {
    chemicalJ: 0,
    riderJ: 0,
    dragJ: 0,
    rollingJ: 0,
    brakesJ: 0,
    batteryLossJ: 0,
    controllerLossJ: 0,
    copperLossJ: 0,
    ironLossJ: 0,
    drivetrainLossJ: 0,
  };
}

/** The book with what the bike holds at the end as motion and height. */
export function closeBook(book: RunningBook, kineticJ: number, potentialJ: number): EnergyBook {
  const input = book.chemicalJ + book.riderJ;
  const spent =
    kineticJ +
    potentialJ +
    book.dragJ +
    book.rollingJ +
    book.brakesJ +
    book.batteryLossJ +
    book.controllerLossJ +
    book.copperLossJ +
    book.ironLossJ +
    book.drivetrainLossJ;
  return { ...book, kineticJ, potentialJ, imbalanceShare: (input - spent) / input };
}
