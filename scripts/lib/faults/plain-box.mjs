import { createRequire } from 'node:module';
import { root } from '../say.mjs';

const require = createRequire(`${root}/apps/server/`);
/** WebSocket.OPEN */
const OPEN = 1;
const TICK_MS = 20;
/** A line that was lost on its way is sent again after so long. */
const AGAIN_MS = 3000;

/** A logger as the protocol asks for one: keeps every line until it is acknowledged, and sends it again where it is not. */
export class PlainBox {
  acknowledged = -1;
  made = 0;
  #socket;
  #timer;
  #sent = 0;
  #sentAt = 0;

  constructor(urlOf, loggerId, session) {
    this.session = session;
    this.urlOf = urlOf;
    this.loggerId = loggerId;
    this.#timer = setInterval(() => this.#tick(), TICK_MS);
  }

  /** As where a line breaks: nothing is said. */
  cut() {
    this.#socket?.terminate();
  }

  stop() {
    clearInterval(this.#timer);
    this.#socket?.terminate();
  }

  #tick() {
    this.made++;
    if (!this.#socket) this.#open();
    if (this.#socket.readyState !== OPEN) return;
    if (this.#sent > this.acknowledged + 1 && Date.now() - this.#sentAt > AGAIN_MS) this.#sent = this.acknowledged + 1;
    while (this.#sent < this.made) {
      const n = this.#sent++;
      this.#socket.send(`${JSON.stringify([n, n / 50, 20, n / 9, 50 - n / 1e4, 5])}\n`);
      this.#sentAt = Date.now();
    }
  }

  #open() {
    // Not before the packages are installed.
    const { WebSocket } = require('ws');
    const socket = new WebSocket(`${this.urlOf().replace('http', 'ws')}/api/logger/stream`);
    this.#socket = socket;
    socket.on('error', () => undefined);
    socket.on('close', () => {
      if (this.#socket === socket) this.#socket = undefined;
    });
    socket.on('open', () => {
      // Whatever was not acknowledged goes again.
      this.#sent = this.acknowledged + 1;
      const hello = {
        protocol: 1,
        logger: this.loggerId,
        session: this.session,
        channels: ['speed', 'distance', 'voltage', 'current'],
      };
      socket.send(`${JSON.stringify({ hello })}\n`);
    });
    socket.on('message', (data) => {
      for (const line of data.toString().split('\n').filter(Boolean)) {
        const { ack } = JSON.parse(line);
        if (ack !== undefined) this.acknowledged = Math.max(this.acknowledged, ack);
      }
    });
  }
}
