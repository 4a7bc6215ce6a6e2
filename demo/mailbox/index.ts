/** A stand-in of a school's mail: takes what Zorvet sends, and shows it on a page. Nothing leaves the machine. */
export { serveMailbox, type Mailbox, type ReceivedLetter } from './mailbox.ts';
