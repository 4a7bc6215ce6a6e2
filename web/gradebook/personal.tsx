import { useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';

import { useEraseStudentMutation } from '#web/api';
import { Button, DownloadLink, Dialog, Refused, TextField } from '#web/ui';

interface PersonalProps {
  readonly studentId: number;
  readonly courseId: number;
  readonly name: string;
  readonly login: string;
}

/** What is kept of a student: taken along, or erased. */
export function Personal(props: PersonalProps) {
  const [isErasing, setIsErasing] = useState(false);
  return (
    <>
      <DownloadLink href={`/api/students/${String(props.studentId)}/data.zip`}>All data (ZIP)</DownloadLink>
      <Button
        onClick={() => {
          setIsErasing(true);
        }}
      >
        Erase the student
      </Button>
      {isErasing && (
        <EraseDialog
          {...props}
          onClose={() => {
            setIsErasing(false);
          }}
        />
      )}
    </>
  );
}

/** It cannot be undone, so the name is asked for. */
function EraseDialog({ studentId, courseId, name, login, onClose }: PersonalProps & { readonly onClose: () => void }) {
  const [erase, { error, isLoading }] = useEraseStudentMutation();
  const [typed, setTyped] = useState('');
  const navigate = useNavigate();
  return (
    <Dialog
      onClose={onClose}
      title={`Erase ${name}`}
      description="The account, all hand-ins, reports and grades are deleted for good. The log keeps who changed a grade or a date, with names; the last list of the section cannot be taken back any more. Files go from the disk at the next start of the server, and from backups after two weeks."
    >
      <form
        noValidate
        className="flex flex-col gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          void erase(studentId).then((answer) => {
            if (answer.error !== undefined) return;
            toast.success(`${name} is erased.`);
            void navigate(`/grades/${String(courseId)}`);
          });
        }}
      >
        <TextField
          label={`Type the sign-in name ${login}`}
          autoComplete="off"
          value={typed}
          onChange={(event) => {
            setTyped(event.target.value);
          }}
        />
        <Refused error={error} />
        <Button kind="main" type="submit" className="self-start" disabled={typed !== login || isLoading}>
          Erase for good
        </Button>
      </form>
    </Dialog>
  );
}
