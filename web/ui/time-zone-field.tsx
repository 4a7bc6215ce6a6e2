import type { ComponentProps } from 'react';

import { SelectField } from './field.tsx';

const ZONES = Intl.supportedValuesOf('timeZone');

/** A time zone, as all that this browser knows. */
export function TimeZoneField(props: Omit<ComponentProps<typeof SelectField>, 'label' | 'children'>) {
  return (
    <SelectField label="Time zone" hint="Times of the course are told in it." {...props}>
      {(ZONES.includes('UTC') ? ZONES : ['UTC', ...ZONES]).map((zone) => (
        <option key={zone} value={zone}>
          {zone.replaceAll('_', ' ')}
        </option>
      ))}
    </SelectField>
  );
}
