/** Working out sizes that a sheet does not write, with a calculator beside it. */
export { SizesPage } from './page.tsx';
