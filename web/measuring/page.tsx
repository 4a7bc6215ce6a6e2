import { useDropzone } from 'react-dropzone';
import { Link } from 'react-router';

import { MAX_FILE_BYTES, type WorkDetail } from '#api';
import { acceptedExtensions, formatNames, formatOf } from '#core/model';
import { LENGTH_UNITS, type LengthUnit } from '#core/quantity';
import { Alert, Button, PageHead, SelectField } from '#web/ui';
import { PageOfWork } from '#web/work';

import { useInspection, type Inspection } from './inspection.ts';
import { Measured } from './measured.tsx';
import { RoundList } from './round-list.tsx';

const UNITS = Object.keys(LENGTH_UNITS) as LengthUnit[];

/** What is my model like, before I hand it in? */
export const MeasuringPage = () => <PageOfWork>{(work) => <Measuring work={work} />}</PageOfWork>;

function Measuring({ work }: { readonly work: WorkDetail }) {
  const { read, look } = useInspection(true);
  const { getRootProps, getInputProps, isDragActive, open, fileRejections } = useDropzone({
    multiple: false,
    noClick: true,
    noKeyboard: true,
    maxSize: MAX_FILE_BYTES,
    onDropAccepted: ([file]) => {
      if (file) look(file, null);
    },
  });
  return (
    <>
      <PageHead
        answer={read.state === 'read' ? read.file.name : `Measure your ${work.exerciseTitle.toLowerCase()} first`}
        detail={
          <>
            Nothing is handed in here, no attempt is used, and the file does not leave this page. What you read off is
            your model; compare it with the sheet of{' '}
            <Link className="underline" to={`/my/${String(work.id)}?stage=${String(work.stage)}`}>
              {work.exerciseNumber} {work.exerciseTitle}
            </Link>
            .
          </>
        }
      />
      <div
        {...getRootProps({
          className: `flex flex-wrap items-center gap-3 border border-dashed px-4 py-3 ${isDragActive ? 'border-accent bg-accent-soft' : 'border-ink/50 bg-paper'}`,
        })}
      >
        <input
          {...getInputProps({ accept: acceptedExtensions(), 'aria-label': 'Model to measure' })}
          data-testid="measured-file"
        />
        <Button kind={read.state === 'read' ? 'plain' : 'main'} onClick={open} disabled={read.state === 'reading'}>
          {read.state === 'none' ? 'Choose a model file' : 'Another file'}
        </Button>
        <span className="text-soft">
          {read.state === 'reading' ? `Reading ${read.fileName} ...` : `or drop it here: ${formatNames()}`}
        </span>
        {read.state === 'read' && <UnitOfFile read={read} onUnit={look} />}
      </div>
      {fileRejections.length > 0 && <Alert>This file is larger than any that is taken.</Alert>}
      {read.state === 'refused' && (
        <Alert>
          {read.fileName}: {read.why}
        </Alert>
      )}
      {read.state === 'read' && <Measured key={read.file.name + (read.unit ?? '')} answer={read.answer} work={work} />}
      {work.aids.round !== 'none' && (
        <div className="mt-4 max-w-3xl">
          <RoundList work={work} />
        </div>
      )}
    </>
  );
}

/** What the numbers are in of a file that does not say so. */
function UnitOfFile({
  read,
  onUnit,
}: {
  readonly read: Extract<Inspection, { state: 'read' }>;
  readonly onUnit: (file: File, unit: LengthUnit | null) => void;
}) {
  const { format } = read.answer.source;
  if (format === 'recipe' || formatOf(format).statesUnit) return null;
  return (
    <span className="w-40">
      <SelectField
        label="Numbers of the file are in"
        value={read.unit ?? ''}
        onChange={(event) => {
          onUnit(read.file, event.target.value === '' ? null : (event.target.value as LengthUnit));
        }}
      >
        <option value="">guessed</option>
        {UNITS.map((unit) => (
          <option key={unit}>{unit}</option>
        ))}
      </SelectField>
    </span>
  );
}
