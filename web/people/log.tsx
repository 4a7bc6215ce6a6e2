import type { AuditEntry } from '#api';
import { useCourseLogQuery } from '#web/api';
import { dateTime, Dialog, Empty, Failed, Loading } from '#web/ui';

/** Who changed people, dates or extensions of a course, the newest first. */
export function LogDialog({
  courseId,
  title,
  onClose,
}: {
  readonly courseId: number;
  readonly title: string;
  readonly onClose: () => void;
}) {
  const { data, error, refetch } = useCourseLogQuery(courseId, { refetchOnMountOrArgChange: true });
  return (
    <Dialog
      onClose={onClose}
      title={`Log of ${title}`}
      description="Who changed people, dates and extensions. Nobody can edit it; the newest hundred entries."
    >
      {error ? (
        <Failed error={error} retry={() => void refetch()} />
      ) : !data ? (
        <Loading what="the log" />
      ) : data.length === 0 ? (
        <Empty>Nothing was changed yet.</Empty>
      ) : (
        <ol className="max-h-96 divide-y divide-rule overflow-auto border border-rule">
          {data.map((entry) => (
            <Entry key={entry.id} entry={entry} />
          ))}
        </ol>
      )}
    </Dialog>
  );
}

/** What is different after a change, where both sides are objects: "dueAt: a, before b". */
function differences({ before, after }: AuditEntry): readonly string[] {
  const fieldsOf = (json: string | null): Readonly<Record<string, unknown>> => {
    const value: unknown = json === null ? {} : JSON.parse(json);
    return typeof value === 'object' && value !== null ? (value as Readonly<Record<string, unknown>>) : {};
  };
  const [old, now] = [fieldsOf(before), fieldsOf(after)];
  const text = (value: unknown): string => (typeof value === 'string' ? value : JSON.stringify(value ?? null));
  return Object.keys(now)
    .filter((name) => text(now[name]) !== text(old[name]))
    .map((name) => `${name}: ${text(now[name])}${before === null ? '' : `, before ${text(old[name])}`}`);
}

function Entry({ entry }: { readonly entry: AuditEntry }) {
  return (
    <li className="px-2 py-1.5">
      <span className="flex justify-between gap-3">
        <span>
          <b className="font-medium">{entry.what}</b> {entry.subject}
        </span>
        <span className="caption whitespace-nowrap">
          {entry.by}, {dateTime(entry.at)}
        </span>
      </span>
      {differences(entry).map((line) => (
        <span key={line} className="block truncate text-xs text-soft" title={line}>
          {line}
        </span>
      ))}
    </li>
  );
}
