import { Toggle } from './toggle.tsx';

/** Whether what merely follows from a mistake is counted as wrong. */
export const RootCauseToggle = (props: { readonly on: boolean; readonly onChange: (on: boolean) => void }) => (
  <Toggle label="A root cause counts once: what merely follows from it earns its points" {...props} />
);
