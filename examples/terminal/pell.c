/* Pell in a terminal: the generated C, keys of the keyboard, and a roof of dashes.

   ./pell                      plays; a and d walk, space jumps, j swings, k guards, q leaves
   ./pell --follow | --drive   the desk compares, or runs the puppet
   ./pell --script "jj...."    plays these keys, a tick each, as fast as can be, and says which states were entered */
#define _POSIX_C_SOURCE 200809L
#include "made/lamplighter.h"
#include "made/yarn_wire.h"

#include <signal.h>
#include <termios.h>

enum { WIDE = 72, HELD_TICKS = 9, TOLD_ROOM = 16384 };
#define WALK 90.0
#define JUMP 230.0
#define GRAVITY 900.0
#define SECONDS (1.0 / 60.0)

typedef struct {
    double x, y, vx, vy; /* pixels, y upwards from the roof */
    int held[128];       /* ticks that a key is held on: a terminal tells of presses only */
} roof;

typedef struct {
    char state[64], facing[16];
    double move_speed;
    bool lock_movement, jumps;
} done;

static yarn_wire wire;
static char told[TOLD_ROOM];
static volatile sig_atomic_t leaves;

static void leave(int number) {
    (void)number;
    leaves = 1;
}

static void read_inputs(const roof *world, lamplighter_inputs *in) {
    lamplighter_nothing(in);
    in->left = world->held['a'] > 0;
    in->right = world->held['d'] > 0;
    in->jump = world->held[' '] > 0;
    in->attack = world->held['j'] > 0;
    in->guard = world->held['k'] > 0;
    in->grounded = world->y <= 0.0;
    in->footing = in->grounded;
    in->move_x = in->right - in->left;
    in->speed = world->vx < 0.0 ? -world->vx : world->vx;
    in->vx = world->vx;
    in->vy = world->vy;
}

/* What the game's own code did. */
static void run_own(lamplighter *pell, const lamplighter_inputs *in, done *what, const roof *world, bool follows) {
    static lamplighter_report out;
    uint32_t digests[8];
    int at;
    lamplighter_tick(pell, in, &out);
    if (follows && lamplighter_told(in, told, TOLD_ROOM)) {
        lamplighter_digests(&out, digests);
        yarn_wire_follow(&wire, told, digests, world->x, -world->y);
    }
    (void)snprintf(what->state, sizeof what->state, "%s",
                   out.layers[0].state < 0 ? "" : lamplighter_state_names[out.layers[0].state]);
    (void)snprintf(what->facing, sizeof what->facing, "%s", out.facing == LAMPLIGHTER_CHOICE_LEFT ? "left" : "right");
    what->move_speed = out.move_speed;
    what->lock_movement = out.lock_movement;
    what->jumps = false;
    for (at = 0; at < out.moment_count; at++) {
        const lamplighter_moment_info *info = &lamplighter_moment_infos[out.moments[at].moment];
        what->jumps = what->jumps || !strcmp(info->name, "jump");
    }
}

/* What the desk says that the puppet did; false where it says nothing. */
static bool run_driven(const lamplighter_inputs *in, done *what, const roof *world) {
    const char *report;
    char name[64];
    int at;
    report = lamplighter_told(in, told, TOLD_ROOM) ? yarn_wire_drive(&wire, told, world->x, -world->y) : NULL;
    if (!report) return false;
    (void)yarn_wire_text(report, "layers.0.state", what->state, sizeof what->state);
    (void)yarn_wire_text(report, "facing", what->facing, sizeof what->facing);
    what->move_speed = yarn_wire_number(report, "move_speed", 1.0);
    what->lock_movement = yarn_wire_number(report, "lock_movement", 0.0) != 0.0;
    what->jumps = false;
    for (at = 0; at < 16; at++) {
        char path[32];
        (void)snprintf(path, sizeof path, "moments.%d.name", at);
        if (!yarn_wire_text(report, path, name, sizeof name)) break;
        what->jumps = what->jumps || !strcmp(name, "jump");
    }
    return true;
}

static void step_world(roof *world, const lamplighter_inputs *in, const done *what) {
    int key;
    world->vx = what->lock_movement ? 0.0 : WALK * what->move_speed * (double)in->move_x;
    if (what->jumps && world->y <= 0.0) world->vy = JUMP;
    world->vy -= world->y > 0.0 || world->vy > 0.0 ? GRAVITY * SECONDS : 0.0;
    world->x += world->vx * SECONDS;
    world->y += world->vy * SECONDS;
    if (world->y <= 0.0) world->y = world->vy = 0.0;
    for (key = 0; key < 128; key++) {
        if (world->held[key]) world->held[key]--;
    }
}

static void draw(const roof *world, const done *what, const char *mode) {
    char line[WIDE + 1];
    int at, place = ((int)(world->x / 6.0) % WIDE + WIDE) % WIDE;
    memset(line, world->y > 0.0 ? ' ' : '_', WIDE);
    line[WIDE] = '\0';
    for (at = 0; at < WIDE && world->y > 0.0; at++) line[at] = ' ';
    line[place] = !strcmp(what->facing, "left") ? '<' : '>';
    printf("\r\033[K%s %-14.14s %s", line, what->state, wire.differs ? "differs from the desk" : mode);
    fflush(stdout);
}

static const char *mode_words(const char *mode) {
    if (!mode[0]) return "alone";
    if (!wire.here) return "no desk";
    return !strcmp(mode, "drive") ? "driven" : "followed";
}

int main(int argc, char **argv) {
    static lamplighter pell;
    roof world = {0.0, 0.0, 0.0, 0.0, {0}};
    done what = {"", "right", 1.0, false, false};
    lamplighter_inputs in;
    struct termios before, raw;
    const char *mode = "", *script = NULL;
    char last[64] = "";
    bool terminal;
    int at;
    for (at = 1; at < argc; at++) {
        if (!strcmp(argv[at], "--follow") || !strcmp(argv[at], "--drive")) mode = argv[at] + 2;
        else if (!strcmp(argv[at], "--script") && at + 1 < argc) script = argv[++at];
        else {
            fprintf(stderr, "pell: expected --follow, --drive or --script KEYS, found %s\n", argv[at]);
            return 2;
        }
    }
    if (mode[0]) yarn_wire_open(&wire, "terminal", mode, "C", lamplighter_made_of, getenv("YARN_PUPPET_WIRE"), NULL);
    lamplighter_start(&pell);
    terminal = !script && tcgetattr(STDIN_FILENO, &before) == 0;
    if (terminal) {
        raw = before;
        raw.c_lflag &= (tcflag_t) ~(ICANON | ECHO);
        (void)tcsetattr(STDIN_FILENO, TCSANOW, &raw);
        printf("a d walk · space jumps · j swings · k guards · q leaves\n");
    }
    (void)signal(SIGINT, leave);
    /* A script is played with the desk there from its first key on: it is waited for, until it is found or is not there. */
    while (script && mode[0] && !yarn_wire_begins(&wire) && wire.stage != YARN_WIRE_AWAY) {
        struct timespec wait = {0, 1000000};
        (void)nanosleep(&wait, NULL);
    }
    while (!leaves) {
        char key = 0;
        struct pollfd ready;
        struct timespec wait;
        ready.fd = STDIN_FILENO;
        ready.events = POLLIN;
        ready.revents = 0;
        if (script) {
            if (!*script) break;
            key = *script++;
        } else {
            while (poll(&ready, 1, 0) > 0 && read(STDIN_FILENO, &key, 1) == 1 && key != 'q') {
                if (key > 0) world.held[(int)key] = HELD_TICKS;
            }
        }
        if (key == 'q') break;
        if (script && key > 0 && key != '.') world.held[(int)key] = 2;
        if (mode[0] && yarn_wire_begins(&wire)) lamplighter_start(&pell);
        read_inputs(&world, &in);
        if (strcmp(mode, "drive") || !run_driven(&in, &what, &world)) {
            run_own(&pell, &in, &what, &world, !strcmp(mode, "follow"));
        }
        step_world(&world, &in, &what);
        if (script && strcmp(last, what.state)) printf("%s\n", what.state);
        (void)snprintf(last, sizeof last, "%s", what.state);
        if (!script) {
            draw(&world, &what, mode_words(mode));
            wait.tv_sec = 0;
            wait.tv_nsec = 1000000000 / 60;
            (void)nanosleep(&wait, NULL);
        }
    }
    if (terminal) {
        (void)tcsetattr(STDIN_FILENO, TCSANOW, &before);
        printf("\n");
    }
    if (mode[0]) {
        if (wire.trouble[0]) fprintf(stderr, "pell: %s\n", wire.trouble);
        if (wire.differs) fprintf(stderr, "pell: tick %lld differs from the desk in %s\n", (long long)wire.differs_at, wire.parts);
        yarn_wire_close(&wire);
    }
    return 0;
}
