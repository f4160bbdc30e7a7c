declare const unit: unique symbol;
/** A number whose unit is asserted at a seam; arithmetic drops the brand. */
export type Quantity<Unit extends string> = number & { readonly [unit]: Unit };
export type Joules = Quantity<'J'>;
export type Metres = Quantity<'m'>;
export type WattHoursPerKm = Quantity<'Wh/km'>;
