import { useRef, type ReactNode } from 'react';

import { Button } from './button.tsx';

interface FileButtonProps {
  /** For those who do not see the button. */
  readonly label: string;
  /** Endings that may be chosen, ".pdf,.png". */
  readonly accept: string;
  readonly testId: string;
  readonly disabled?: boolean;
  readonly onFile: (file: File) => void;
  readonly children: ReactNode;
}

/** A button that asks for one file; the same file may be chosen twice. */
export function FileButton({ label, accept, testId, disabled = false, onFile, children }: FileButtonProps) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={input}
        type="file"
        className="sr-only"
        aria-label={label}
        accept={accept}
        data-testid={testId}
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          event.target.value = '';
          if (file !== undefined) onFile(file);
        }}
      />
      <Button disabled={disabled} onClick={() => input.current?.click()}>
        {children}
      </Button>
    </>
  );
}
