/** The state of the service. */
import { type ServiceState, ServiceStateSchema } from '#api';

import { api } from '#web/server';

export const { useServiceQuery } = api.injectEndpoints({
  endpoints: (build) => ({
    service: build.query<ServiceState, void>({ query: () => 'service', responseSchema: ServiceStateSchema }),
  }),
});
