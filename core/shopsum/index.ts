/** Sums of the workshop by their formulas: chamfers, tapers, bolt circles, threads. */
export { SHOP_SUMS } from './sums.ts';
export type { ShopSum, SumInput, SumQuantity, SumRow } from './sum.ts';
