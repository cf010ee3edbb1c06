"""What OpenGL does with each point and each pixel, in its own language."""

FILL_VERTEX = """
#version 330
in vec3 place; in float chosen; in vec2 over; in vec4 color;
out float own; out vec2 where; out vec4 wool;
void main() {
    gl_Position = vec4(place, 1.0);
    own = chosen; where = over; wool = color;
}
"""

FILL_FRAGMENT = """
#version 330
uniform sampler2D worn;
uniform vec3 light;
uniform float steep;
in float own; in vec2 where; in vec4 wool;
out vec4 made;
void main() {
    vec4 cloth = texture(worn, where) * wool;
    if (cloth.a < 0.5) discard;
    // Each triangle is flat, and faces whoever looks: how much deeper it gets to the right and
    // downwards says which way.
    vec2 deeper = vec2(dFdx(gl_FragCoord.z), dFdy(gl_FragCoord.z)) * steep;
    float lit = 0.81 + 0.19 * dot(normalize(vec3(deeper.x, -deeper.y, 1.0)), light);
    made = vec4(mix(cloth.rgb * lit, vec3(0.72, 0.28, 0.25), 0.6 * own), 1.0);
}
"""

INK_VERTEX = """
#version 330
in vec2 corner;
void main() { gl_Position = vec4(corner, 0.0, 1.0); }
"""

INK_FRAGMENT = """
#version 330
uniform sampler2D drawn;
uniform sampler2D depths;
uniform float apart;
uniform float outline;
uniform vec4 tint;
uniform int finer;
out vec4 made;
const vec3 INK = vec3(0.10, 0.11, 0.19);
void main() {
    ivec2 first = ivec2(gl_FragCoord.xy) * finer;
    ivec2 most = textureSize(depths, 0) - 1;
    vec4 sum = texelFetch(drawn, first, 0);
    if (finer == 2)
        sum = 0.25 * (sum + texelFetch(drawn, first + ivec2(1, 0), 0)
                      + texelFetch(drawn, first + ivec2(0, 1), 0)
                      + texelFetch(drawn, first + ivec2(1, 1), 0));
    sum.rgb = mix(sum.rgb, tint.rgb * sum.a, tint.a);
    // A line where what is in front is well before what is behind, or before nothing; a slope is
    // as much before one neighbour as behind the other.
    float line = 0.0;
    if (outline > 0.0) {
        float far = texelFetch(depths, first, 0).r;
        vec4 there = vec4(
            texelFetch(depths, min(first + ivec2(finer, 0), most), 0).r,
            texelFetch(depths, max(first - ivec2(finer, 0), ivec2(0)), 0).r,
            texelFetch(depths, min(first + ivec2(0, finer), most), 0).r,
            texelFetch(depths, max(first - ivec2(0, finer), ivec2(0)), 0).r);
        bool edge = far > 0.999 ? any(lessThan(there, vec4(0.999)))
                                : any(greaterThan(there, vec4(0.999)));
        float step = max(there.x + there.y, there.z + there.w) - 2.0 * far;
        line = edge ? 0.75 : step > apart ? 0.4 : 0.0;
    }
    // The reader takes the bytes as blue, green, red.
    made = vec4((sum.rgb * (1.0 - line) + INK * line).bgr, sum.a * (1.0 - line) + line);
}
"""
