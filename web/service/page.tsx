import type { ServiceState } from '#api';
import { formatFixed } from '#core/quantity';
import { useServiceQuery } from '#web/api';
import { ButtonLink, dateTime, Failed, fromNow, Loading, PageHead, Panel, plural } from '#web/ui';

const POLL_MS = 5000;
/** Less free room than this is worth a word: a course hands in a gigabyte on an evening. */
const LITTLE_ROOM_BYTES = 5 * 1024 ** 3;

const size = (bytes: number): string =>
  bytes < 1024 ** 3 ? `${formatFixed(bytes / 1024 ** 2, 1)} MB` : `${formatFixed(bytes / 1024 ** 3, 1)} GB`;

/** What wants to be done, the most pressing first. */
function worries({ queue, disk, backup, loopDelayMs }: ServiceState): readonly string[] {
  return [
    ...(queue.isPaused
      ? ['Nothing can be written: the disk is full or read-only. Hand-ins are refused until there is room.']
      : []),
    ...(disk !== null && disk.freeBytes < LITTLE_ROOM_BYTES
      ? [`Only ${size(disk.freeBytes)} are free on the disk.`]
      : []),
    ...(backup !== null && backup.problem !== null ? [`The last backup failed: ${backup.problem}`] : []),
    ...(backup !== null && backup.folder !== null && backup.last === null ? ['There is no backup yet.'] : []),
    ...(loopDelayMs.p99 > 100 ? ['The server answers late: it has more to do than it can.'] : []),
  ];
}

/** Is the service well? */
export function ServicePage() {
  const { data, error, refetch } = useServiceQuery(undefined, { pollingInterval: POLL_MS });
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the state of the service" />;
  const [first, ...others] = worries(data);
  return (
    <>
      <PageHead
        answer={first ?? 'The service is well'}
        detail={others.length === 0 ? `Running since ${dateTime(data.startedAt)}.` : others.join(' ')}
        actions={<ButtonLink to="/service/school-site">The school&apos;s site</ButtonLink>}
        facts={[
          { label: 'Version', value: data.version },
          { label: 'Node.js', value: data.node },
          { label: 'Accounts', value: String(data.people.accounts) },
          { label: 'Signed in', value: String(data.people.signedIn) },
        ]}
      />
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-2">
        <Panel title="Measuring">
          <Figures rows={measuringOf(data)} />
        </Panel>
        <Panel title="Storage and backup">
          <Figures rows={storageOf(data)} />
        </Panel>
      </div>
    </>
  );
}

type Row = readonly [label: string, value: string];

function Figures({ rows }: { readonly rows: readonly Row[] }) {
  return (
    <dl className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-4 gap-y-1 p-3">
      {rows.map(([label, value]) => (
        <div key={label} className="contents">
          <dt className="text-soft">{label}</dt>
          <dd className="break-words">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

function measuringOf({ queue, workers, loopDelayMs }: ServiceState): readonly Row[] {
  const since = queue.oldestAt === null ? '' : `, the oldest since ${fromNow(queue.oldestAt).replace(' ago', '')}`;
  return [
    ['Waiting', `${plural(queue.waiting, 'file')}${since}`],
    ['Being measured', `${String(queue.running)} of ${plural(workers.width, 'worker')} at work`],
    ['Ended by the geometry of a file', String(workers.crashed)],
    ['Stopped for taking too long', String(workers.timedOut)],
    ['Replaced after much work', String(workers.replaced)],
    [
      'Delay of the server',
      `${formatFixed(loopDelayMs.p99, 0)} ms in 99 of 100 moments, ${formatFixed(loopDelayMs.most, 0)} ms at most`,
    ],
  ];
}

function storageOf({ disk, databaseBytes, files, backup }: ServiceState): readonly Row[] {
  return [
    ['Free on the disk', disk === null ? 'not known' : `${size(disk.freeBytes)} of ${size(disk.totalBytes)}`],
    ['Database', size(databaseBytes)],
    ['Files', `${String(files.count)}, ${size(files.bytes)}`],
    ['Last backup', backup?.folder ? (backup.last ?? 'none yet') : 'none is made by this server'],
    ...(backup?.folder ? [['Backups lie in', backup.folder] as const] : []),
  ];
}
