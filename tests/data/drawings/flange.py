#!/usr/bin/python3
# flange.pdf: a flange by ASME Y14.5 in inches, with Unicode symbols as text, stacked fractions, runs
# that are split within figures, limits one above the other. Made once by pycairo.
import cairo, math, sys
P = 72 / 25.4
surface = cairo.PDFSurface(sys.argv[1], 279.4 * P, 215.9 * P)
c = cairo.Context(surface)
c.scale(P, P)
H = 215.9
c.select_font_face("DejaVu Sans")
S = 3.2
def text(x, y, t, size=S, angle=0):
    c.save(); c.set_font_size(size); c.translate(x, H - y); c.rotate(-angle); c.move_to(0, 0); c.show_text(t); c.restore()
def width(t, size=S):
    c.set_font_size(size); return c.text_extents(t).x_advance
def line(x0, y0, x1, y1, w=0.25):
    c.new_path(); c.set_line_width(w); c.move_to(x0, H - y0); c.line_to(x1, H - y1); c.stroke()
def tip(x, y, dx, dy):
    n = math.hypot(dx, dy); dx /= n; dy /= n
    c.new_path(); c.move_to(x, H - y); c.line_to(x + 3 * dx - .5 * dy, H - (y + 3 * dy + .5 * dx)); c.line_to(x + 3 * dx + .5 * dy, H - (y + 3 * dy - .5 * dx)); c.close_path(); c.fill()
def rect(x, y, w, h):
    c.new_path(); c.set_line_width(.25); c.rectangle(x, H - y - h, w, h); c.stroke()
def circle(x, y, r, w=.5):
    c.new_path(); c.set_line_width(w); c.arc(x, H - y, r, 0, 2 * math.pi); c.stroke()
def split(x, y, parts, size=S):
    # one run a part, as some writers do
    for p in parts:
        text(x, y, p, size); x += width(p, size)
    return x
def leader(x0, y0, x1, y1):
    line(x0, y0, x1, y1); line(x1, y1, x1 + 4, y1); tip(x0, y0, x1 - x0, y1 - y0)
def frame(x, y, cells):
    for t in cells:
        w = width(t) + 3; rect(x, y, w, 6.4); text(x + 1.5, y + 1.9, t); x += w
rect(8, 8, 263.4, 199.9)
circle(90, 110, 45); circle(90, 110, 12); circle(90, 110, 32, .2)
for k in range(4):
    a = math.radians(45 + 90 * k); circle(90 + 32 * math.cos(a), 110 + 32 * math.sin(a), 4)
# sizes by leaders; "4X" and the sign apart, the figure split
leader(90 + 22.6 + 2.8, 110 + 22.6 + 2.8, 150, 172)
split(155, 171, ["4", "X ", "⌀", ".3", "12", " ±", ".005"])
frame(155, 163, ["⌖", "⌀.010    ", "A", "B    "])
for x in (155 + width("⌖") + 3 + 1.5 + width("⌀.010") + 2.4, 155 + width("⌖") + 3 + width("⌀.010    ") + 3 + width("A") + 3 + 1.5 + width("B") + 2.4):
    circle(x, 166.2, 2.1, .2); text(x - width("M", 2.8) / 2, 165.2, "M", 2.8)
leader(90 + 8.5, 110 + 8.5, 150, 150)
text(155, 151.2, "⌀.751"); text(155, 147.2, "⌀.747"); text(170, 150, "THRU")
frame(155, 139, ["⊥", "⌀.002", "A"])
# the datum letter of the bore hangs on its frame
rect(157, 128, 6.4, 6.4); text(158.9, 129.9, "B"); line(160.2, 134.4, 160.2, 137)
c.new_path(); c.move_to(158.7, H - 139); c.line_to(161.7, H - 139); c.line_to(160.2, H - 136.6); c.close_path(); c.fill()
leader(45, 110, 28, 182); text(33, 181, "⌀3.50±.01")
# a horizontal text in a gap of a vertical dimension line
line(200, 60, 236, 60); line(200, 100, 236, 100); line(230, 60, 230, 76); line(230, 84, 230, 100); tip(230, 60, 0, 1); tip(230, 100, 0, -1)
text(224, 78.8, "1.575")
# stacked fraction
line(200, 40, 200, 22); line(238, 40, 238, 22); line(200, 28, 238, 28); tip(200, 28, 1, 0); tip(238, 28, -1, 0)
text(212, 29.5, "1"); text(215.4, 31.6, "3", 2.2); line(215.2, 31, 217.4, 31, .2); text(215.4, 28.7, "8", 2.2); text(218.4, 29.5, "±1/64")
# rotated text
line(40, 60, 20, 60); line(40, 160, 20, 160); line(24, 60, 24, 160); tip(24, 60, 0, 1); tip(24, 160, 0, -1)
c.save(); c.translate(22.6, H - 100); c.rotate(-math.pi / 2); c.set_font_size(S); c.move_to(0, 0); c.show_text("3."); c.show_text("940 "); c.show_text("+.004/-.002"); c.restore()
# basic, reference, angle, radius
rect(58, 42, width("2.520") + 3, 6.4); text(59.5, 43.9, "2.520"); line(90, 60, 90, 36); line(45, 60, 45, 36); line(45, 40, 90, 40); tip(45, 40, 1, 0); tip(90, 40, -1, 0)
line(90, 34, 90, 24); line(135, 60, 135, 24); line(90, 28, 135, 28); tip(90, 28, 1, 0); tip(135, 28, -1, 0); text(106, 29.5, "(1.77)")
leader(130, 131, 205, 128); text(210, 127, "R.06 MAX")
leader(126, 84, 205, 118); text(210, 117, ".06 X 45°")
c.new_path(); c.set_line_width(.25); c.arc(90, H - 110, 50, -math.radians(45), 0); c.stroke()
tip(140, 110, 0, 1); tip(90 + 50 * math.cos(math.radians(45)), 110 + 50 * math.sin(math.radians(45)), .7, -.7)
text(139, 132, "45°±1°")
frame(190, 196, ["⏥", ".001"]); leader(160, 188, 186, 199.2)
frame(225, 178, ["↗", ".003", "A-B"])
leader(200, 90, 244, 104); text(249, 103, "1/4-20 UNC-2B")
rect(225, 150, 6.4, 6.4); text(227, 151.9, "A"); line(218.4, 153.2, 225, 153.2)
c.new_path(); c.move_to(216, H - 151.7); c.line_to(216, H - 154.7); c.line_to(218.4, H - 153.2); c.close_path(); c.fill()
text(12, 22, "UNLESS OTHERWISE SPECIFIED DIMENSIONS ARE IN INCHES", 2.6)
text(12, 17, "1. BREAK EDGES .005 TO .015", 2.6); text(12, 12, "2. MATERIAL: AL 6061-T6 PER SPEC 114", 2.6)
for x, t in ((150, "FLANGE, RELIEF"), (205, "SM-2207"), (235, "SCALE 1/2")):
    rect(x, 8, 30 if x > 200 else 55, 9); text(x + 2, 11, t, 2.6)
surface.finish()
