// The live wire for a game in JavaScript: one file, for browsers and Node.
// It is yours, without conditions. SPDX-License-Identifier: MIT-0
//
//     const wire = new Wire({game: "skyline", mode: "follow", code: "JavaScript", madeOf: pell.MADE_OF});
//     ...each tick:
//     if (wire.begins()) puppet = pell.start();          // the desk has just come: start again together
//     const report = pell.tick(puppet, inputs);
//     wire.follow(pell.told(inputs), pell.digests(report), [x, y]);
//
// or, without generated code, `const report = await wire.drive({down: [...], senses: {...}}, [x, y])`, which is null while
// there is no desk. Nothing here waits for a desk that is not there.

const PROTOCOL = 1, AGAIN_AFTER = 2000, ASK_EVERY = 30, OUT_OF_ORDER = -32004;

/** The key: of a page, what stands after # in its address as key=…; of Node, YARN_PUPPET_KEY or the desk's own file. */
export async function defaultKey() {
  if (typeof location !== "undefined") return new URLSearchParams(location.hash.slice(1)).get("key") || "";
  return process.env.YARN_PUPPET_KEY || kept("wire.key");
}

/** Where the desk listens: for a page what stands after # as wire=…; for Node YARN_PUPPET_WIRE, or what the desk wrote beside
 * its key; else where it listens at first. */
export async function defaultAddress() {
  const found = typeof location !== "undefined" ? new URLSearchParams(location.hash.slice(1)).get("wire")
    : process.env.YARN_PUPPET_WIRE || await kept("wire.address");
  return found || "127.0.0.1:47800";
}

/** What the desk keeps in one of its own files; empty where there is none. */
async function kept(name) {
  const [{readFile}, {homedir}, {join}] = await Promise.all(
    [import("node:fs/promises"), import("node:os"), import("node:path")]);
  const folder = process.env.XDG_CONFIG_HOME || join(homedir(), ".config");
  return readFile(join(folder, "yarn-puppet", name), "ascii").then(text => text.trim(), () => "");
}

/** One puppet of a game. `welcome` is what the desk said of its puppet, null while there is none; `differs` the first tick
 * whose report is another there; `edited` the last edit that took effect; `trouble` what was wrong last. An answer to a
 * tick is waited for `answerWithin` milliseconds, what the desk says to a game that comes in `welcomeWithin`;
 * one that follows has `silentAfter` to show that it hears. */
export class Wire {
  constructor({game, mode, code = "", madeOf = "", address = null, key = null, answerWithin = 250,
    welcomeWithin = 2000, silentAfter = 2000}) {
    Object.assign(this, {game, mode, code, madeOf, address, key, answerWithin, welcomeWithin, silentAfter});
    this.welcome = this.differs = this.edited = null;
    this.trouble = "";
    this.tick = 0;
    this.socket = null;
    this.waiting = new Map();
    this.number = 0;
    this.again = 0;
    this.asked = 0;
    this.isNew = false;
  }

  /** Whether the desk is there. */
  get here() { return this.welcome !== null; }

  /** Whether the desk has just come: true once. The puppet starts again then, here as there. */
  begins() {
    if (this.socket === null && Date.now() >= this.again) this.look();
    const isNew = this.isNew;
    this.isNew = false;
    return isNew;
  }

  /** The puppet is before its first tick again, as when a character comes back to life. */
  begin() {
    this.tick = 0;
    this.differs = null;
    if (this.here) this.tell({method: "begin"});
  }

  /** Go back by so many ticks, 120 at the most: a game that predicted wrong rolls back, and tells what it runs once more with
   * the calls that it always makes. */
  back(ticks) {
    this.tick = Math.max(0, this.tick - ticks);
    if (this.differs && this.differs.tick >= this.tick) this.differs = null;
  }

  /** One tick: what happened in it; null where there is no desk, or it did not answer in time. */
  async drive(inputs, at = [0, 0]) {
    this.begins();
    if (!this.here) return null;
    const tick = this.tick++;
    const found = await this.ask("tick", {...inputs, tick, at}, this.answerWithin);
    if (found === null) {
      this.leave("the desk did not answer");
      return null;
    }
    if (found.error) {
      this.trouble = found.error.message;
      if (found.error.code === OUT_OF_ORDER) this.begin();
      else if (this.tick === tick + 1) this.tick = tick;
      return null;
    }
    return found.result;
  }

  /** Tell of one tick that was run here: what went in, and the digests of what came out. */
  follow(inputs, digests, at = [0, 0]) {
    if (!this.here) return;
    if (this.asked && Date.now() - this.asked > this.silentAfter) {
      this.leave("the desk stands still");
      return;
    }
    const params = {...inputs, tick: this.tick, at, digests};
    // Now and then an answer is asked for, so that a desk that stands still is noticed.
    if (this.tick++ % ASK_EVERY === 0 && !this.asked) {
      this.asked = Date.now();
      this.ask("tick", params, this.silentAfter * 2).then(() => { this.asked = 0; });
    } else {
      this.tell({method: "tick", params});
    }
  }

  /** Leave, once the desk has read what was told. */
  async close() {
    if (this.here) await this.ask("bye", {}, 500);
    this.leave("");
    this.again = Infinity;
  }

  // The connection -------------------------------------------------------------------------------------------------

  async look() {
    this.again = Infinity;
    try {
      const key = this.key ?? await defaultKey();
      const socket = this.socket = await opened(this.address ?? await defaultAddress(), this.welcomeWithin);
      socket.onmessage = event => this.heard(event.data);
      socket.onclose = event => { if (this.socket === socket) this.leave(event.reason || "the desk is gone"); };
      const found = await this.ask("hello", {protocol: PROTOCOL, key, game: this.game, mode: this.mode, code: this.code,
        made_of: this.madeOf}, this.welcomeWithin);
      if (found === null || found.error) throw new Error(found ? found.error.message : "the desk did not answer");
      Object.assign(this, {welcome: found.result, tick: 0, trouble: "", differs: null, asked: 0, isNew: true});
    } catch (error) {
      this.leave(error.message);
    }
  }

  leave(why) {
    const socket = this.socket;
    this.socket = this.welcome = null;
    this.isNew = false;
    this.trouble = why;
    this.again = Date.now() + AGAIN_AFTER;
    for (const answer of this.waiting.values()) answer(null);
    this.waiting.clear();
    if (socket) { socket.onclose = socket.onmessage = () => {}; socket.close(); }
  }

  tell(message) {
    try { this.socket?.send(JSON.stringify({jsonrpc: "2.0", ...message})); } catch (error) { this.leave(error.message); }
  }

  ask(method, params, within) {
    const id = ++this.number;
    return new Promise(resolve => {
      const late = setTimeout(() => { this.waiting.delete(id); resolve(null); }, within);
      this.waiting.set(id, found => { clearTimeout(late); this.waiting.delete(id); resolve(found); });
      this.tell({method, params, id});
    });
  }

  heard(text) {
    let told;
    try { told = JSON.parse(text); } catch { return; }
    if (this.waiting.has(told?.id)) this.waiting.get(told.id)(told);
    else if (told?.method === "differs") this.differs = told.params;
    else if (told?.method === "edited") this.edited = told.params;
    else if (told?.method === "trouble") {
      this.trouble = String(told.params?.message);
      if (told.params?.code === OUT_OF_ORDER) { this.isNew = true; this.begin(); }
    }
  }
}

/** A socket of RFC 6455 to the desk: the browser's own, or Node's where it has one. One that is not open within so many
 * milliseconds, as that of another program, is given up. */
function opened(address, within) {
  if (typeof WebSocket === "undefined") return openedByNode(address, within);
  return new Promise((resolve, reject) => {
    const socket = new WebSocket(`ws://${address}/`);
    const late = setTimeout(() => { socket.close(); reject(new Error("the desk did not answer")); }, within);
    socket.onopen = () => { clearTimeout(late); resolve(socket); };
    socket.onerror = socket.onclose = () => { clearTimeout(late); reject(new Error("no desk listens")); };
  });
}

/** The least of a client of RFC 6455: text, ping and close, over Node's sockets. */
async function openedByNode(address, within) {
  const [{connect}, {randomBytes, createHash}] = await Promise.all([import("node:net"), import("node:crypto")]);
  const split = address.lastIndexOf(":");
  const stream = connect({host: address.slice(0, split).replace(/^\[|\]$/g, ""), port: Number(address.slice(split + 1))});
  const key = randomBytes(16).toString("base64");
  const right = createHash("sha1").update(`${key}258EAFA5-E914-47DA-95CA-C5AB0DC85B11`).digest("base64");
  const late = setTimeout(() => stream.destroy(new Error("the desk did not answer")), within);
  stream.setNoDelay(true);
  stream.write(`GET / HTTP/1.1\r\nHost: ${address}\r\nUpgrade: websocket\r\nConnection: Upgrade\r\n`
    + `Sec-WebSocket-Key: ${key}\r\nSec-WebSocket-Version: 13\r\n\r\n`);
  const socket = {onmessage() {}, onclose() {}, send: text => frame(1, Buffer.from(text)), close() { stream.destroy(); }};
  let rest = Buffer.alloc(0), parts = [], upgraded = false;

  function frame(kind, content) {
    const long = content.length > 65535, mask = randomBytes(4);
    const head = Buffer.alloc(content.length < 126 ? 2 : long ? 10 : 4);
    head[0] = 0x80 | kind;
    head[1] = 0x80 | (content.length < 126 ? content.length : long ? 127 : 126);
    if (long) head.writeBigUInt64BE(BigInt(content.length), 2);
    else if (content.length >= 126) head.writeUInt16BE(content.length, 2);
    stream.write(Buffer.concat([head, mask, content.map((byte, at) => byte ^ mask[at % 4])]));
  }

  function frames() {
    for (;;) {
      if (rest.length < 2) return;
      let size = rest[1] & 0x7F, at = 2;
      if (size === 126) { if (rest.length < 4) return; size = rest.readUInt16BE(2); at = 4; }
      else if (size === 127) { if (rest.length < 10) return; size = Number(rest.readBigUInt64BE(2)); at = 10; }
      if (rest.length < at + size) return;
      const kind = rest[0] & 0x0F, last = rest[0] & 0x80, content = rest.subarray(at, at + size);
      rest = rest.subarray(at + size);
      if (kind === 8) { stream.end(); socket.onclose({reason: content.subarray(2).toString()}); return; }
      if (kind === 9) frame(10, content);
      if (kind < 3) {
        parts.push(content);
        if (last) { const whole = Buffer.concat(parts).toString(); parts = []; socket.onmessage({data: whole}); }
      }
    }
  }

  return new Promise((resolve, reject) => {
    const gone = error => { clearTimeout(late); reject(error instanceof Error ? error : new Error("the desk is gone")); socket.onclose({}); };
    stream.on("error", gone);
    stream.on("close", gone);
    stream.on("data", data => {
      rest = Buffer.concat([rest, data]);
      if (!upgraded) {
        const end = rest.indexOf("\r\n\r\n");
        if (end < 0) return;
        const head = rest.subarray(0, end).toString();
        rest = rest.subarray(end + 4);
        if (!/^HTTP\/1\.1 101/.test(head) || !head.includes(right)) {
          stream.destroy(new Error("what listens there is no desk"));
          return;
        }
        upgraded = true;
        clearTimeout(late);
        resolve(socket);
      }
      frames();
    });
  });
}
