export {
  PURCHASE_KINDS,
  sumPurchases,
  type PurchaseKind,
  type PurchaseLine,
  type PurchaseSums,
  type Rate,
} from './purchases.js';
export { runningCosts, type CostPart, type RunningCosts, type RunningFacts, type Uncertain } from './running-costs.js';
export { payback, type Payback, type Way } from './payback.js';
export { paybackWords } from './payback-words.js';
