import { SECOND, type Instant } from '../../core/base/instant.js';
import type { Random } from '../random.js';
import { MONTHS } from './clock.js';
import type { DemoRecord, Happening } from './record.js';

const PRIORITY = 10 * 8 + 6; // authpriv, informational

function stamp(time: Instant): string {
  const date = new Date(time / 1000);
  const two = (value: number): string => String(value).padStart(2, '0');
  return `${MONTHS[date.getUTCMonth()]} ${String(date.getUTCDate()).padStart(2, ' ')} ${two(date.getUTCHours())}:${two(date.getUTCMinutes())}:${two(date.getUTCSeconds())}`;
}

/** Writes what sshd and sudo log through syslog (RFC 3164), in the words of the real programs. */
export class DockAuth {
  private readonly records: DemoRecord[] = [];

  constructor(private readonly random: Random) {}

  /** Everything written so far. */
  take(): DemoRecord[] {
    return this.records;
  }

  private line(time: Instant, host: string, tag: string, message: string, happening?: Happening): void {
    const whole = Math.floor(time / SECOND) * SECOND;
    const raw = `<${PRIORITY}>${stamp(whole)} ${host} ${tag}: ${message}`;
    this.records.push({
      source: 'dock-auth',
      raw,
      time: whole,
      received: whole + this.random.between(0, 2) * SECOND,
      identity: raw.trim(),
      ...(happening && { happening }),
    });
  }

  /** A password that is refused, with the lines sshd and its modules write around it. */
  refused(
    time: Instant,
    host: string,
    user: string,
    address: string,
    known: boolean,
    happening?: Happening,
  ): void {
    const tag = `sshd[${this.random.between(2000, 62_000)}]`;
    const port = this.random.between(32_768, 60_999);
    if (!known) this.line(time, host, tag, `Invalid user ${user} from ${address} port ${port}`, happening);
    this.line(
      time,
      host,
      tag,
      `pam_unix(sshd:auth): authentication failure; logname= uid=0 euid=0 tty=ssh ruser= rhost=${address} ${known ? ` user=${user}` : ''}`,
      happening,
    );
    this.line(
      time + 2 * SECOND,
      host,
      tag,
      `Failed password for ${known ? '' : 'invalid user '}${user} from ${address} port ${port} ssh2`,
      happening,
    );
    this.line(
      time + 3 * SECOND,
      host,
      tag,
      `Connection closed by ${known ? 'authenticating' : 'invalid'} user ${user} ${address} port ${port} [preauth]`,
      happening,
    );
  }

  /** A sign-in from its beginning to its end. */
  session(
    time: Instant,
    host: string,
    user: string,
    address: string,
    by: 'password' | 'publickey',
    seconds: number,
  ): void {
    const tag = `sshd[${this.random.between(2000, 62_000)}]`;
    const port = this.random.between(32_768, 60_999);
    const key = by === 'publickey' ? `: ED25519 SHA256:${this.random.hex(43)}` : '';
    this.line(time, host, tag, `Accepted ${by} for ${user} from ${address} port ${port} ssh2${key}`);
    this.line(
      time,
      host,
      tag,
      `pam_unix(sshd:session): session opened for user ${user}(uid=${this.random.between(1000, 1200)}) by (uid=0)`,
    );
    this.line(time + seconds * SECOND, host, tag, `Disconnected from user ${user} ${address} port ${port}`);
    this.line(time + seconds * SECOND, host, tag, `pam_unix(sshd:session): session closed for user ${user}`);
  }

  /** A command run with another's rights. */
  sudo(time: Instant, host: string, user: string, as: string, command: string, right: boolean): void {
    const detail = `TTY=pts/${this.random.between(0, 4)} ; PWD=/home/${user} ; USER=${as} ; COMMAND=${command}`;
    if (!right)
      this.line(time, host, 'sudo', `${user.padStart(8)} : 3 incorrect password attempts ; ${detail}`);
    else {
      this.line(time, host, 'sudo', `${user.padStart(8)} : ${detail}`);
      this.line(
        time,
        host,
        'sudo',
        `pam_unix(sudo:session): session opened for user ${as}(uid=0) by ${user}(uid=1001)`,
      );
      this.line(time + SECOND, host, 'sudo', `pam_unix(sudo:session): session closed for user ${as}`);
    }
  }
}
