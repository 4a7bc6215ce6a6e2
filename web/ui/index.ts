/** Shared primitives of the interface. */
export { Button, ButtonLink } from './button.tsx';
export { SelectField, TextArea, TextField } from './field.tsx';
export { TimeZoneField } from './time-zone-field.tsx';
export { NumberField } from './number-field.tsx';
export { PageHead, TitleBlock, type Fact } from './titleblock.tsx';
export { OwnStateMark, ScoreBar, StateMark, VerdictMark } from './state.tsx';
export { Tab } from './tab.tsx';
export { Toggle } from './toggle.tsx';
export { RootCauseToggle } from './root-cause.tsx';
export { FileButton } from './file-button.tsx';
export { ProgressBar } from './progress.tsx';
export { Gauge } from './gauge.tsx';
export { Dialog } from './dialog.tsx';
export { Empty, Failed, Loading, Panel } from './status.tsx';
export { dateTime, fileSize, fromNow, hasPassed, plural, tellTimesIn, zoneOfTimes } from './format.ts';
export { LATEST_LOCAL, localOf, momentOf } from './local-time.ts';
export { useKeptText } from './kept.ts';
export { usePageKeys } from './keys.ts';
