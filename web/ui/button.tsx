import type { AnchorHTMLAttributes, ButtonHTMLAttributes } from 'react';
import { Link, type LinkProps } from 'react-router';

type Look = 'main' | 'plain' | 'quiet';

const LOOKS: Readonly<Record<Look, string>> = {
  main: 'bg-accent text-onaccent border-accent hover:brightness-110',
  plain: 'bg-paper text-ink border-ink/70 hover:bg-accent-soft',
  quiet: 'bg-transparent text-ink border-transparent hover:bg-accent-soft',
};

const look = (kind: Look): string =>
  `inline-flex h-8 items-center justify-center gap-2 border px-3 text-sm font-medium whitespace-nowrap disabled:opacity-45 disabled:pointer-events-none cursor-pointer ${LOOKS[kind]}`;

export function Button({
  kind = 'plain',
  className = '',
  type = 'button',
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { kind?: Look }) {
  return <button type={type} className={`${look(kind)} ${className}`} {...rest} />;
}

export function ButtonLink({ kind = 'plain', className = '', ...rest }: LinkProps & { kind?: Look }) {
  return <Link className={`${look(kind)} ${className}`} {...rest} />;
}

/** A file of the server, which looks like the buttons beside it. */
export function DownloadLink({ className = '', children, ...rest }: AnchorHTMLAttributes<HTMLAnchorElement>) {
  return (
    <a className={`${look('plain')} ${className}`} download {...rest}>
      {children}
    </a>
  );
}
