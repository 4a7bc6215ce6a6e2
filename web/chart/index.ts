/** Charts in the colors of the page. Loaded only where one is shown. */
export { ChartCanvas, xAxis, yAxis, type ChartColors } from './canvas.tsx';
