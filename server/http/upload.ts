/** Forms with a file, as they come: the file goes to disk a piece at a time, and the fields are few and small. */
import { Readable } from 'node:stream';
import { finished } from 'node:stream/promises';

import { Busboy } from '@fastify/busboy';

import { refuse, succeed, type Problem, type Result } from '#core/problem';
import { isUnwritable } from '#server/db';
import type { FileStore, Incoming } from '#server/files';

export interface UploadedForm {
  readonly fields: Readonly<Record<string, string>>;
  /** The only file, to be kept or discarded; null where none came. */
  readonly file: { readonly incoming: Incoming; readonly fileName: string } | null;
}

export interface UploadLimits {
  readonly fileBytes: number;
  readonly fieldBytes: number;
  /** What is said of a file that is larger. */
  readonly tooLarge: Problem;
}

const UNREADABLE = 'This form broke off on its way, or is none. Send it again.';

/** Ends a file that is larger than it may be, so that nothing of it is kept. */
class TooLarge extends Error {}

/** Reads a form from a request. Refuses with `tooLarge`, and with `bad-input` for what is no form or breaks off. */
export async function receiveForm(
  request: Request,
  files: Pick<FileStore, 'receive'>,
  { fileBytes, fieldBytes, tooLarge }: UploadLimits,
): Promise<Result<UploadedForm>> {
  const contentType = request.headers.get('content-type') ?? '';
  if (request.body === null || !/^multipart\/form-data\b.*\bboundary=/i.test(contentType))
    return refuse('bad-input', UNREADABLE);
  const form = new Busboy({
    headers: { 'content-type': contentType },
    limits: { files: 1, fields: 20, fileSize: fileBytes, fieldSize: fieldBytes, parts: 30 },
  });
  const body = Readable.fromWeb(request.body as Parameters<typeof Readable.fromWeb>[0]);
  const read = new FormReading(form, body, files);
  try {
    await finished(body.pipe(form));
    const file = await read.file;
    return read.isCut
      ? refuse(tooLarge.code, 'A field of this form is larger than it needs to be.')
      : succeed({ fields: read.fields, file });
  } catch (error) {
    const reason = await read.failed(error);
    if (reason instanceof TooLarge) return { ok: false, problem: tooLarge };
    // What the disk says is said by the server as a whole.
    if (isUnwritable(reason)) throw reason;
    return refuse('bad-input', UNREADABLE);
  }
}

type BusboyInstance = InstanceType<typeof Busboy>;

/** A form while it comes; where one of its streams ends too early, so do the others. */
class FormReading {
  readonly fields: Record<string, string> = {};
  file: Promise<UploadedForm['file']> = Promise.resolve(null);
  isCut = false;
  #end: (error: Error) => void;

  constructor(form: BusboyInstance, body: Readable, files: Pick<FileStore, 'receive'>) {
    const streams: (Readable | BusboyInstance)[] = [form, body];
    this.#end = (error) => {
      for (const stream of streams) stream.destroy(error);
    };
    // Who is told of a failure is `finished`, and whoever waits for the file.
    const watch = (stream: Readable | BusboyInstance): void => {
      stream.on('error', this.#end);
    };
    streams.forEach(watch);
    form.on('field', (name, value, _nameCut, valueCut) => {
      this.fields[name] = value;
      this.isCut ||= valueCut;
    });
    form.on('file', (_name, content, fileName) => {
      streams.push(content);
      watch(content);
      content.on('limit', () => {
        this.#end(new TooLarge());
      });
      this.file = files.receive(content).then((incoming) => ({ incoming, fileName }));
      this.file.catch((error: unknown) => {
        this.#end(error instanceof Error ? error : new Error(String(error)));
      });
    });
  }

  /** Ends what is still open, and says why the file failed where it did. */
  async failed(error: unknown): Promise<unknown> {
    this.#end(error instanceof Error ? error : new Error(String(error)));
    return this.file.then(
      () => error,
      (ofFile: unknown) => ofFile,
    );
  }
}
