/* The live wire for a game in C: one header, C99 or C++, POSIX sockets and nothing else.
   It is yours, without conditions. SPDX-License-Identifier: MIT-0

       static yarn_wire wire;
       yarn_wire_open(&wire, "skyline", "follow", "C", pell_made_of, NULL, NULL);
       ...each tick:
       if (yarn_wire_begins(&wire)) pell_start(&pell);    the desk has just come: start again together
       pell_tick(&pell, &in, &out);
       pell_digests(&out, digests);
       pell_told(&in, told, sizeof told);
       yarn_wire_follow(&wire, told, digests, x, y);

   or `const char *report = yarn_wire_drive(&wire, told, x, y);`, a report as JSON, which `yarn_wire_text` and
   `yarn_wire_number` read; NULL while there is no desk. Nothing here waits for a desk that is not there, that stands
   still or that is another program: looking for it goes a step further with each call. Only `yarn_wire_drive` waits, for
   the answer it is about, and once: a desk that does not give it in time is left. With
   -std=c99 define _POSIX_C_SOURCE as 200809L before the first include. */
#ifndef YARN_WIRE_H
#define YARN_WIRE_H

#include <arpa/inet.h>
#include <errno.h>
#include <fcntl.h>
#include <locale.h>
#include <netdb.h>
#include <netinet/in.h>
#include <netinet/tcp.h>
#include <poll.h>
#include <stdbool.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/socket.h>
#include <time.h>
#include <unistd.h>

#ifdef MSG_NOSIGNAL
#define YARN_WIRE_FLAGS MSG_NOSIGNAL
#else
#define YARN_WIRE_FLAGS 0
#endif

enum { YARN_WIRE_ROOM = 131072, YARN_WIRE_MOST = 65536, YARN_WIRE_UNSENT = 262144 };

/* How far the desk has been found. */
enum { YARN_WIRE_AWAY, YARN_WIRE_CONNECTING, YARN_WIRE_UPGRADING, YARN_WIRE_GREETING, YARN_WIRE_HERE };

/* Milliseconds: an answer to a tick is waited for so long, what the desk says to a game that comes in so long, and a desk
   that is only told has so long to show that it hears. */
#ifndef YARN_WIRE_ANSWER_WITHIN
#define YARN_WIRE_ANSWER_WITHIN 250
#endif
#ifndef YARN_WIRE_WELCOME_WITHIN
#define YARN_WIRE_WELCOME_WITHIN 2000
#endif
#ifndef YARN_WIRE_SILENT_AFTER
#define YARN_WIRE_SILENT_AFTER 2000
#endif

/* One puppet of a game. Plain data of fixed size; about 600 kB, so not for the stack. */
typedef struct {
    char address[128], key[80], game[84], mode[8], code[84], made_of[84];
    bool finds_address, finds_key; /* in the desk's own files, each time it is looked for */
    int stage;
    int64_t until;   /* when looking for it is given up */
    char right[32];  /* what the desk answers to the handshake */
    bool here;       /* the desk is there */
    bool differs;    /* follow: some tick's report is another at the desk */
    int64_t differs_at;
    char parts[128]; /* of which parts of it, as JSON */
    bool edited;     /* drive: an edit took effect; set it false once it was read */
    char trouble[208];
    int64_t tick;
    int socket;
    bool is_new;
    int64_t again, asked_at, number, asked;
    size_t in_count, text_count, unsent_count;
    char out[YARN_WIRE_MOST + 16], in[YARN_WIRE_ROOM], text[YARN_WIRE_ROOM];
    char unsent[YARN_WIRE_UNSENT]; /* what the socket has not taken yet */
} yarn_wire;

/* Reading JSON ---------------------------------------------------------------------------------------------------- */

static inline const char *yarn_wire_space(const char *at) {
    while (*at == ' ' || *at == '\t' || *at == '\n' || *at == '\r') at++;
    return at;
}

static inline const char *yarn_wire_string_end(const char *at) {
    for (at++; *at && *at != '"'; at++) {
        if (*at == '\\' && at[1]) at++;
    }
    return *at ? at + 1 : at;
}

/* Past a value; no deeper than its brackets say, so nothing calls itself. */
static inline const char *yarn_wire_past(const char *at) {
    int deep = 0;
    at = yarn_wire_space(at);
    do {
        if (*at == '"') {
            at = yarn_wire_string_end(at);
        } else {
            if (*at == '{' || *at == '[') deep++;
            if (*at == '}' || *at == ']') deep--;
            if (*at) at++;
        }
        if (deep == 0) {
            while (*at && *at != ',' && *at != '}' && *at != ']' && *at != ' ' && *at != '\n') at++;
        }
    } while (*at && deep > 0);
    return at;
}

/* The value at a path such as "layers.0.clip"; NULL where there is none. */
static inline const char *yarn_wire_at(const char *json, const char *path) {
    const char *at = yarn_wire_space(json);
    while (*path) {
        size_t size = strcspn(path, ".");
        if (*at == '{') {
            bool found = false;
            at = yarn_wire_space(at + 1);
            while (*at == '"') {
                const char *end = yarn_wire_string_end(at);
                found = (size_t)(end - at) == size + 2 && !strncmp(at + 1, path, size);
                at = yarn_wire_space(end);
                if (*at == ':') at = yarn_wire_space(at + 1);
                if (found) break;
                at = yarn_wire_space(yarn_wire_past(at));
                if (*at == ',') at = yarn_wire_space(at + 1);
            }
            if (!found) return NULL;
        } else if (*at == '[') {
            long place = strtol(path, NULL, 10);
            at = yarn_wire_space(at + 1);
            while (place-- > 0 && *at && *at != ']') {
                at = yarn_wire_space(yarn_wire_past(at));
                if (*at == ',') at = yarn_wire_space(at + 1);
            }
            if (*at == ']' || !*at) return NULL;
        } else {
            return NULL;
        }
        path += size;
        if (*path == '.') path++;
    }
    return *at ? at : NULL;
}

/* A number as JSON writes it, wherever in the world the program runs. */
static inline double yarn_wire_real(const char *at) {
    char text[48];
    size_t count = strspn(at, "+-.0123456789eE");
    char *point;
    if (count >= sizeof text) count = sizeof text - 1;
    memcpy(text, at, count);
    text[count] = '\0';
    point = strchr(text, '.');
    if (point) *point = *localeconv()->decimal_point;
    return strtod(text, NULL);
}

/* A number; true and false are 1 and 0. */
static inline double yarn_wire_number(const char *json, const char *path, double otherwise) {
    const char *at = json ? yarn_wire_at(json, path) : NULL;
    if (!at || *at == '"' || *at == '{' || *at == '[' || *at == 'n') return otherwise;
    return *at == 't' ? 1.0 : *at == 'f' ? 0.0 : yarn_wire_real(at);
}

/* A text; letters beyond ASCII that are written by their numbers become question marks. False where there is none. */
static inline bool yarn_wire_text(const char *json, const char *path, char *text, size_t room) {
    const char *at = json ? yarn_wire_at(json, path) : NULL;
    size_t count = 0;
    if (room) text[0] = '\0';
    if (!at || *at != '"' || !room) return false;
    for (at++; *at && *at != '"' && count + 1 < room; at++) {
        if (*at == '\\' && at[1]) {
            at++;
            if (*at == 'u') {
                int left = 4;
                while (left-- > 0 && at[1] && at[1] != '"') at++;
                text[count++] = '?';
            } else {
                text[count++] = *at == 'n' || *at == 't' ? ' ' : *at;
            }
        } else {
            text[count++] = *at;
        }
    }
    text[count] = '\0';
    return true;
}

/* The connection -------------------------------------------------------------------------------------------------- */

static inline int64_t yarn_wire_now(void) {
    struct timespec now;
    clock_gettime(CLOCK_MONOTONIC, &now);
    return (int64_t)now.tv_sec * 1000 + now.tv_nsec / 1000000;
}

static inline void yarn_wire_leave(yarn_wire *wire, const char *why) {
    if (wire->socket >= 0) close(wire->socket);
    wire->socket = -1;
    wire->here = wire->is_new = false;
    wire->in_count = wire->text_count = wire->unsent_count = 0;
    wire->stage = YARN_WIRE_AWAY;
    wire->asked = 0;
    wire->again = yarn_wire_now() + 2000;
    (void)snprintf(wire->trouble, sizeof wire->trouble, "%s", why);
}

static inline void yarn_wire_copied(char *to, size_t room, const char *from) {
    size_t count = 0;
    /* What would end a text of JSON is left out. */
    for (; from && *from && count + 1 < room; from++) {
        if (*from != '"' && *from != '\\' && (unsigned char)*from >= ' ') to[count++] = *from;
    }
    to[count] = '\0';
}

/* What the desk keeps in one of its own files; empty where there is none. */
static inline void yarn_wire_kept(const char *name, char *found, size_t room) {
    const char *folder = getenv("XDG_CONFIG_HOME"), *home = getenv("HOME");
    char path[512], read[128];
    FILE *file;
    size_t count;
    found[0] = '\0';
    (void)snprintf(path, sizeof path, "%s%s/yarn-puppet/%s", folder && *folder ? folder : home ? home : "",
                   folder && *folder ? "" : "/.config", name);
    file = fopen(path, "r");
    if (file) {
        count = fread(read, 1, sizeof read - 1, file);
        read[count] = '\0';
        read[strcspn(read, "\r\n")] = '\0';
        yarn_wire_copied(found, room, read);
        fclose(file);
    }
}

/* YARN_PUPPET_KEY, or the desk's own file. */
static inline void yarn_wire_default_key(char *key, size_t room) {
    const char *given = getenv("YARN_PUPPET_KEY");
    if (given && *given) yarn_wire_copied(key, room, given);
    else yarn_wire_kept("wire.key", key, room);
}

/* YARN_PUPPET_WIRE, where the desk wrote that it listens, or where it listens at first. */
static inline void yarn_wire_default_address(char *address, size_t room) {
    const char *given = getenv("YARN_PUPPET_WIRE");
    if (given && *given) yarn_wire_copied(address, room, given);
    else yarn_wire_kept("wire.address", address, room);
    if (!address[0]) yarn_wire_copied(address, room, "127.0.0.1:47800");
}

/* `mode` is "drive" or "follow". `address` and `key` are found where they are NULL. An address is one of numbers, as
   127.0.0.1:47800 or [::1]:47800: names are not looked up, which could take long. */
static inline void yarn_wire_open(yarn_wire *wire, const char *game, const char *mode, const char *code,
                                  const char *made_of, const char *address, const char *key) {
    memset(wire, 0, sizeof *wire);
    wire->socket = -1;
    wire->finds_address = !address;
    wire->finds_key = !key;
    yarn_wire_copied(wire->address, sizeof wire->address, address ? address : "");
    yarn_wire_copied(wire->game, sizeof wire->game - 3, game);
    yarn_wire_copied(wire->mode, sizeof wire->mode, mode);
    yarn_wire_copied(wire->code, sizeof wire->code - 3, code);
    yarn_wire_copied(wire->made_of, sizeof wire->made_of - 3, made_of);
    yarn_wire_copied(wire->key, sizeof wire->key, key ? key : "");
}

/* Send what the socket takes now; what it does not take is sent later, and a desk that takes no more is left. */
static inline bool yarn_wire_flush(yarn_wire *wire) {
    while (wire->unsent_count && wire->socket >= 0) {
        ssize_t sent = send(wire->socket, wire->unsent, wire->unsent_count, YARN_WIRE_FLAGS);
        if (sent > 0) {
            wire->unsent_count -= (size_t)sent;
            memmove(wire->unsent, wire->unsent + sent, wire->unsent_count);
        } else if (sent < 0 && (errno == EAGAIN || errno == EWOULDBLOCK || errno == EINTR)) {
            return true;
        } else {
            yarn_wire_leave(wire, "the desk is gone");
        }
    }
    return wire->socket >= 0;
}

static inline bool yarn_wire_send_all(yarn_wire *wire, const char *from, size_t count) {
    if (wire->socket < 0 || !yarn_wire_flush(wire)) return false;
    while (!wire->unsent_count && count) {
        ssize_t sent = send(wire->socket, from, count, YARN_WIRE_FLAGS);
        if (sent > 0) {
            from += sent;
            count -= (size_t)sent;
        } else if (sent < 0 && (errno == EAGAIN || errno == EWOULDBLOCK)) {
            break;
        } else if (sent >= 0 || errno != EINTR) {
            yarn_wire_leave(wire, "the desk is gone");
            return false;
        }
    }
    if (count > sizeof wire->unsent - wire->unsent_count) {
        yarn_wire_leave(wire, "the desk stands still");
        return false;
    }
    memcpy(wire->unsent + wire->unsent_count, from, count);
    wire->unsent_count += count;
    return true;
}

/* One frame of RFC 6455, masked as clients must. */
static inline bool yarn_wire_frame(yarn_wire *wire, int kind, char *content, size_t count) {
    unsigned char head[14];
    size_t at = 2, each;
    uint32_t mask = (uint32_t)yarn_wire_now() * 2654435761u ^ (uint32_t)wire->number * 40503u;
    head[0] = (unsigned char)(0x80 | kind);
    if (count < 126) {
        head[1] = (unsigned char)(0x80 | count);
    } else {
        head[1] = 0x80 | 126;
        head[2] = (unsigned char)(count >> 8 & 0xFF);
        head[3] = (unsigned char)(count & 0xFF);
        at = 4;
    }
    for (each = 0; each < 4; each++) head[at + each] = (unsigned char)(mask >> (8 * each) & 0xFF);
    for (each = 0; each < count; each++) content[each] = (char)(content[each] ^ (char)head[at + each % 4]);
    return yarn_wire_send_all(wire, (const char *)head, at + 4) && yarn_wire_send_all(wire, content, count);
}

static inline void yarn_wire_heard(yarn_wire *wire) {
    char method[16] = "";
    double id = yarn_wire_number(wire->text, "id", 0.0);
    if (wire->asked && id == (double)wire->asked) wire->asked = 0;
    if (!yarn_wire_text(wire->text, "method", method, sizeof method)) return;
    if (!strcmp(method, "differs")) {
        const char *parts = yarn_wire_at(wire->text, "params.parts");
        wire->differs = true;
        wire->differs_at = (int64_t)yarn_wire_number(wire->text, "params.tick", -1.0);
        if (parts) (void)snprintf(wire->parts, sizeof wire->parts, "%.*s", (int)(yarn_wire_past(parts) - parts), parts);
    } else if (!strcmp(method, "edited")) {
        wire->edited = true;
    } else if (!strcmp(method, "trouble")) {
        (void)yarn_wire_text(wire->text, "params.message", wire->trouble, sizeof wire->trouble);
        if (yarn_wire_number(wire->text, "params.code", 0.0) == -32004.0) wire->is_new = true;
    }
}

/* Take one whole message out of what has come, into `text`. */
static inline bool yarn_wire_message(yarn_wire *wire) {
    for (;;) {
        const unsigned char *in = (const unsigned char *)wire->in;
        size_t size, at = 2, each;
        int kind, last;
        if (wire->in_count < 2) return false;
        size = in[1] & 0x7F;
        if (size == 126) {
            if (wire->in_count < 4) return false;
            size = (size_t)in[2] << 8 | in[3];
            at = 4;
        } else if (size == 127) {
            if (wire->in_count < 10) return false;
            for (size = 0, each = 2; each < 10; each++) size = size << 8 | in[each];
            at = 10;
        }
        if (size > YARN_WIRE_ROOM - 64) {
            yarn_wire_leave(wire, "the desk sent more than there is room for");
            return false;
        }
        if (wire->in_count < at + size) return false;
        kind = in[0] & 0x0F;
        last = in[0] & 0x80;
        if (kind < 3 && wire->text_count + size + 1 < sizeof wire->text) {
            memcpy(wire->text + wire->text_count, wire->in + at, size);
            wire->text_count += size;
        } else if (kind == 9 && size < 126) {
            char pong[126];
            memcpy(pong, wire->in + at, size);
            if (!yarn_wire_frame(wire, 10, pong, size)) return false;
        }
        if (kind == 8) {
            yarn_wire_leave(wire, "the desk said goodbye");
            return false;
        }
        memmove(wire->in, wire->in + at + size, wire->in_count - at - size);
        wire->in_count -= at + size;
        if (kind < 3 && last) {
            wire->text[wire->text_count] = '\0';
            wire->text_count = 0;
            return true;
        }
    }
}

/* Read what has come, or comes within so many milliseconds. Gives whether the answer that is wanted is in `text`. */
static inline bool yarn_wire_read(yarn_wire *wire, int64_t wanted, int within) {
    int64_t until = yarn_wire_now() + within;
    while (wire->socket >= 0) {
        struct pollfd ready;
        ssize_t count;
        int64_t left;
        while (yarn_wire_message(wire)) {
            double id = yarn_wire_number(wire->text, "id", 0.0);
            yarn_wire_heard(wire);
            if (wanted && id == (double)wanted) return true;
        }
        if (wire->socket < 0) return false;
        if (!yarn_wire_flush(wire)) return false;
        left = until - yarn_wire_now();
        ready.fd = wire->socket;
        ready.events = (short)(wire->unsent_count ? POLLIN | POLLOUT : POLLIN);
        ready.revents = 0;
        if (poll(&ready, 1, left > 0 ? (int)left : 0) <= 0) return false;
        if (!(ready.revents & ~POLLOUT)) {
            if (left <= 0) return false;
            continue;
        }
        count = recv(wire->socket, wire->in + wire->in_count, sizeof wire->in - wire->in_count, 0);
        if (count > 0) wire->in_count += (size_t)count;
        else if (count == 0 || (errno != EAGAIN && errno != EWOULDBLOCK && errno != EINTR)) {
            yarn_wire_leave(wire, "the desk is gone");
        }
    }
    return false;
}

/* Send a message: a method, its parameters as JSON, and an id where an answer is wanted. */
static inline bool yarn_wire_tell(yarn_wire *wire, const char *method, const char *params, int64_t id) {
    char tail[48] = "}";
    int count;
    if (id) (void)snprintf(tail, sizeof tail, ",\"id\":%lld}", (long long)id);
    count = snprintf(wire->out, sizeof wire->out, "{\"jsonrpc\":\"2.0\",\"method\":\"%s\",\"params\":{%s}%s", method, params,
                     tail);
    if (count < 0 || count >= YARN_WIRE_MOST) {
        (void)snprintf(wire->trouble, sizeof wire->trouble, "a message was too long, and is not sent");
        return false;
    }
    return yarn_wire_frame(wire, 1, wire->out, (size_t)count);
}

static inline void yarn_wire_sha1(const char *text, size_t count, unsigned char digest[20]) {
    uint32_t h[5] = {0x67452301u, 0xEFCDAB89u, 0x98BADCFEu, 0x10325476u, 0xC3D2E1F0u};
    unsigned char block[128] = {0};
    size_t whole = count < 56 ? 64 : 128, at, each;
    memcpy(block, text, count);
    block[count] = 0x80;
    for (each = 0; each < 4; each++) block[whole - 1 - each] = (unsigned char)((count * 8) >> (8 * each) & 0xFF);
    for (at = 0; at < whole; at += 64) {
        uint32_t w[80], a = h[0], b = h[1], c = h[2], d = h[3], e = h[4];
        for (each = 0; each < 16; each++) {
            const unsigned char *from = block + at + 4 * each;
            w[each] = (uint32_t)from[0] << 24 | (uint32_t)from[1] << 16 | (uint32_t)from[2] << 8 | from[3];
        }
        for (each = 16; each < 80; each++) {
            uint32_t mixed = w[each - 3] ^ w[each - 8] ^ w[each - 14] ^ w[each - 16];
            w[each] = mixed << 1 | mixed >> 31;
        }
        for (each = 0; each < 80; each++) {
            uint32_t f = each < 20 ? (b & c) | (~b & d) : each < 40 || each >= 60 ? b ^ c ^ d : (b & c) | (b & d) | (c & d);
            uint32_t k = each < 20 ? 0x5A827999u : each < 40 ? 0x6ED9EBA1u : each < 60 ? 0x8F1BBCDCu : 0xCA62C1D6u;
            uint32_t next = (a << 5 | a >> 27) + f + e + k + w[each];
            e = d;
            d = c;
            c = b << 30 | b >> 2;
            b = a;
            a = next;
        }
        h[0] += a;
        h[1] += b;
        h[2] += c;
        h[3] += d;
        h[4] += e;
    }
    for (each = 0; each < 20; each++) digest[each] = (unsigned char)(h[each / 4] >> (24 - 8 * (each % 4)) & 0xFF);
}

static inline void yarn_wire_base64(const unsigned char *from, size_t count, char *text) {
    static const char LETTERS[] = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
    size_t at;
    for (at = 0; at < count; at += 3) {
        uint32_t three = (uint32_t)from[at] << 16 | (at + 1 < count ? (uint32_t)from[at + 1] << 8 : 0u)
            | (at + 2 < count ? (uint32_t)from[at + 2] : 0u);
        *text++ = LETTERS[three >> 18 & 63];
        *text++ = LETTERS[three >> 12 & 63];
        *text++ = at + 1 < count ? LETTERS[three >> 6 & 63] : '=';
        *text++ = at + 2 < count ? LETTERS[three & 63] : '=';
    }
    *text = '\0';
}

/* Begin to look for the desk. */
static inline void yarn_wire_look(yarn_wire *wire) {
    char host[128], *port;
    struct addrinfo hints, *found = NULL;
    int one = 1;
    wire->again = yarn_wire_now() + 2000;
    if (wire->finds_address) yarn_wire_default_address(wire->address, sizeof wire->address);
    if (wire->finds_key) yarn_wire_default_key(wire->key, sizeof wire->key);
    (void)snprintf(host, sizeof host, "%s", wire->address);
    port = strrchr(host, ':');
    if (!port) {
        yarn_wire_leave(wire, "expected an address such as 127.0.0.1:47800");
        return;
    }
    *port++ = '\0';
    /* An address of IPv6 stands in brackets. */
    if (host[0] == '[' && strchr(host, ']')) {
        *strchr(host, ']') = '\0';
        memmove(host, host + 1, strlen(host));
    }
    if (!strcmp(host, "localhost")) (void)snprintf(host, sizeof host, "127.0.0.1");
    memset(&hints, 0, sizeof hints);
    hints.ai_socktype = SOCK_STREAM;
    hints.ai_flags = AI_NUMERICHOST | AI_NUMERICSERV;
    if (getaddrinfo(host, port ? port : "", &hints, &found) || !found) {
        yarn_wire_leave(wire, "expected an address of numbers, such as 127.0.0.1:47800");
        return;
    }
    wire->socket = socket(found->ai_family, found->ai_socktype, found->ai_protocol);
    if (wire->socket >= 0) {
        (void)fcntl(wire->socket, F_SETFL, O_NONBLOCK);
        (void)setsockopt(wire->socket, IPPROTO_TCP, TCP_NODELAY, &one, sizeof one);
        wire->stage = YARN_WIRE_CONNECTING;
        wire->until = yarn_wire_now() + YARN_WIRE_WELCOME_WITHIN;
        if (connect(wire->socket, found->ai_addr, found->ai_addrlen) && errno != EINPROGRESS) {
            yarn_wire_leave(wire, "no desk listens");
        }
    } else {
        yarn_wire_leave(wire, "no socket is to be had");
    }
    freeaddrinfo(found);
}

/* The handshake of RFC 6455. */
static inline void yarn_wire_upgrade(yarn_wire *wire) {
    unsigned char seed[16], digest[20];
    char key[32], both[80];
    int each, count;
    FILE *random = fopen("/dev/urandom", "rb");
    if (!random || fread(seed, 1, sizeof seed, random) != sizeof seed) {
        for (each = 0; each < 16; each++) seed[each] = (unsigned char)(yarn_wire_now() >> each & 0xFF);
    }
    if (random) fclose(random);
    yarn_wire_base64(seed, sizeof seed, key);
    (void)snprintf(both, sizeof both, "%s258EAFA5-E914-47DA-95CA-C5AB0DC85B11", key);
    yarn_wire_sha1(both, strlen(both), digest);
    yarn_wire_base64(digest, sizeof digest, wire->right);
    count = snprintf(wire->out, sizeof wire->out,
                     "GET / HTTP/1.1\r\nHost: %s\r\nUpgrade: websocket\r\nConnection: Upgrade\r\n"
                     "Sec-WebSocket-Key: %s\r\nSec-WebSocket-Version: 13\r\n\r\n", wire->address, key);
    if (yarn_wire_send_all(wire, wire->out, (size_t)count)) wire->stage = YARN_WIRE_UPGRADING;
}

/* What the desk said to the handshake, as far as it has come; then hello is said. */
static inline void yarn_wire_upgraded(yarn_wire *wire) {
    char params[512], *end;
    ssize_t came = recv(wire->socket, wire->in + wire->in_count, sizeof wire->in - wire->in_count - 1, 0);
    if (came < 0 && (errno == EAGAIN || errno == EWOULDBLOCK || errno == EINTR)) return;
    if (came <= 0) {
        yarn_wire_leave(wire, "what listens there is no desk");
        return;
    }
    wire->in_count += (size_t)came;
    wire->in[wire->in_count] = '\0';
    end = strstr(wire->in, "\r\n\r\n");
    if (!end) {
        if (wire->in_count > 8192) yarn_wire_leave(wire, "what listens there is no desk");
        return;
    }
    *end = '\0';
    if (strncmp(wire->in, "HTTP/1.1 101", 12) || !strstr(wire->in, wire->right)) {
        yarn_wire_leave(wire, "what listens there is no desk");
        return;
    }
    wire->in_count -= (size_t)(end + 4 - wire->in);
    memmove(wire->in, end + 4, wire->in_count);
    (void)snprintf(params, sizeof params,
                   "\"protocol\":1,\"key\":\"%s\",\"game\":\"%s\",\"mode\":\"%s\",\"code\":\"%s\",\"made_of\":\"%s\"", wire->key,
                   wire->game, wire->mode, wire->code, wire->made_of);
    wire->number++;
    if (yarn_wire_tell(wire, "hello", params, wire->number)) wire->stage = YARN_WIRE_GREETING;
}

/* What the desk said to hello, where that has come. */
static inline void yarn_wire_greeted(yarn_wire *wire) {
    if (!yarn_wire_read(wire, wire->number, 0)) return;
    if (!yarn_wire_at(wire->text, "result")) {
        char why[200];
        (void)yarn_wire_text(wire->text, "error.message", why, sizeof why);
        yarn_wire_leave(wire, why);
        return;
    }
    wire->stage = YARN_WIRE_HERE;
    wire->here = wire->is_new = true;
    wire->differs = false;
    wire->tick = 0;
    wire->trouble[0] = '\0';
}

/* Look for the desk, a step further where there is one to be made. Never waits. */
static inline void yarn_wire_step(yarn_wire *wire) {
    if (wire->stage == YARN_WIRE_AWAY && yarn_wire_now() >= wire->again) yarn_wire_look(wire);
    if (wire->stage == YARN_WIRE_CONNECTING) {
        struct pollfd ready;
        int failed = 0;
        socklen_t size = sizeof failed;
        ready.fd = wire->socket;
        ready.events = POLLOUT;
        ready.revents = 0;
        if (poll(&ready, 1, 0) > 0) {
            if (getsockopt(wire->socket, SOL_SOCKET, SO_ERROR, &failed, &size) || failed) {
                yarn_wire_leave(wire, "no desk listens");
            } else {
                yarn_wire_upgrade(wire);
            }
        }
    }
    if (wire->stage == YARN_WIRE_UPGRADING) yarn_wire_upgraded(wire);
    if (wire->stage == YARN_WIRE_GREETING) yarn_wire_greeted(wire);
    if (wire->stage != YARN_WIRE_AWAY && wire->stage != YARN_WIRE_HERE && yarn_wire_now() >= wire->until) {
        yarn_wire_leave(wire, "the desk did not answer");
    }
}

/* What a game calls ----------------------------------------------------------------------------------------------- */

/* The puppet is before its first tick again, as when a character comes back to life. */
static inline void yarn_wire_begin(yarn_wire *wire) {
    wire->tick = 0;
    wire->differs = false;
    if (wire->here) (void)yarn_wire_tell(wire, "begin", "", 0);
}

/* Go back by so many ticks, 120 at the most: a game that predicted wrong rolls back, and tells what it runs once more with
   the calls that it always makes. */
static inline void yarn_wire_back(yarn_wire *wire, int64_t ticks) {
    wire->tick = wire->tick > ticks ? wire->tick - ticks : 0;
    if (wire->differs && wire->differs_at >= wire->tick) wire->differs = false;
}

/* Whether the desk has just come: true once. The puppet starts again then, here as there. */
static inline bool yarn_wire_begins(yarn_wire *wire) {
    bool is_new;
    if (wire->stage != YARN_WIRE_HERE) yarn_wire_step(wire);
    is_new = wire->is_new;
    wire->is_new = false;
    if (is_new && wire->tick) yarn_wire_begin(wire);
    return is_new;
}

/* A place in thousandths of a pixel, wherever in the world the program runs. */
static inline void yarn_wire_place(double value, char text[40]) {
    long long all = value > -1e9 && value < 1e9 ? (long long)(value * 1000.0) : 0;
    long long size = all < 0 ? -all : all;
    (void)snprintf(text, 40, "%s%lld.%03d", all < 0 ? "-" : "", size / 1000, (int)(size % 1000));
}

/* Tell of one tick that was run here: what went in, as NAME_told gives it, and the digests of what came out. */
static inline void yarn_wire_follow(yarn_wire *wire, const char *told, const uint32_t digests[8], double x, double y) {
    static const int ASK_EVERY = 30;
    int64_t id = 0;
    char *params = wire->text, across[40], down[40];
    if (!wire->here) return;
    if (wire->asked && yarn_wire_now() - wire->asked_at > YARN_WIRE_SILENT_AFTER) {
        yarn_wire_leave(wire, "the desk stands still");
        return;
    }
    if (wire->tick % ASK_EVERY == 0 && !wire->asked) {
        id = wire->asked = ++wire->number;
        wire->asked_at = yarn_wire_now();
    }
    yarn_wire_place(x, across);
    yarn_wire_place(y, down);
    (void)snprintf(params, sizeof wire->text, "\"tick\":%lld,%s,\"at\":[%s,%s],\"digests\":[%lu,%lu,%lu,%lu,%lu,%lu,%lu,%lu]",
                   (long long)wire->tick, told, across, down, (unsigned long)digests[0], (unsigned long)digests[1],
                   (unsigned long)digests[2], (unsigned long)digests[3], (unsigned long)digests[4],
                   (unsigned long)digests[5], (unsigned long)digests[6], (unsigned long)digests[7]);
    if (yarn_wire_tell(wire, "tick", params, id)) {
        wire->tick++;
        (void)yarn_wire_read(wire, 0, 0);
    }
}

/* One tick: a report as JSON, to be read before the next call; NULL where there is no desk, or no answer in time. */
static inline const char *yarn_wire_drive(yarn_wire *wire, const char *told, double x, double y) {
    char *params = wire->text, across[40], down[40];
    (void)yarn_wire_begins(wire);
    if (!wire->here) return NULL;
    yarn_wire_place(x, across);
    yarn_wire_place(y, down);
    (void)snprintf(params, sizeof wire->text, "\"tick\":%lld,%s,\"at\":[%s,%s]", (long long)wire->tick, told, across, down);
    wire->number++;
    if (!yarn_wire_tell(wire, "tick", params, wire->number)) return NULL;
    if (!yarn_wire_read(wire, wire->number, YARN_WIRE_ANSWER_WITHIN)) {
        if (wire->socket >= 0) yarn_wire_leave(wire, "the desk did not answer");
        return NULL;
    }
    if (!yarn_wire_at(wire->text, "result")) {
        (void)yarn_wire_text(wire->text, "error.message", wire->trouble, sizeof wire->trouble);
        if (yarn_wire_number(wire->text, "error.code", 0.0) == -32004.0) yarn_wire_begin(wire);
        return NULL;
    }
    wire->tick++;
    return yarn_wire_at(wire->text, "result");
}

/* Leave, once the desk has read what was told. */
static inline void yarn_wire_close(yarn_wire *wire) {
    wire->number++;
    if (wire->here && yarn_wire_tell(wire, "bye", "", wire->number)) (void)yarn_wire_read(wire, wire->number, 500);
    yarn_wire_leave(wire, "");
}

#endif
