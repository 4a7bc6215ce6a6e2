/** How the service is: for a page of the administrator, for programs that watch it, and for the desk. */
export { createMetrics, type Metrics } from './metrics.ts';
export { serviceRoutes, type ServiceRouteParts } from './routes.ts';
export { createServiceState, type ServiceStateParts } from './state.ts';
