#!/usr/bin/python3
# plate.fodg: a plate for LibreOffice Draw, which makes plate.pdf of it (soffice --headless
# --convert-to pdf plate.fodg). Comma decimals, texts turned and slanted, arrows of the program's own.
import math, sys
H = 210
body = []
def text(x, y, spans, size=10, angle=0, style="t"):
    # lower left corner of the first letter about; spans: (text, size factor, raise)
    runs = "".join(f'<text:span text:style-name="{"s" if f < 1 else "n"}">{t}</text:span>' for t, f in spans)
    h = size * 0.353 * 1.2
    if angle:
        a = math.radians(angle)
        x0, y0 = x - math.sin(a) * h * .8, y + math.cos(a) * h * .8
        place = f'draw:transform="rotate ({a:.6f}) translate ({x0:.3f}mm {H - y0:.3f}mm)"'
    else:
        place = f'svg:x="{x}mm" svg:y="{H - y - h * .8:.3f}mm"'
    body.append(f'<draw:frame draw:style-name="f" draw:text-style-name="p" svg:width="60mm" svg:height="{h:.3f}mm" {place}><draw:text-box><text:p>{runs}</text:p></draw:text-box></draw:frame>')
def t(x, y, s, angle=0): text(x, y, [(s, 1)], 10, angle)
def small(x, y, s, angle=0): text(x, y, [(s, .6)], 7, angle)
def line(x0, y0, x1, y1, style="l"):
    body.append(f'<draw:line draw:style-name="{style}" svg:x1="{x0}mm" svg:y1="{H - y0}mm" svg:x2="{x1}mm" svg:y2="{H - y1}mm"/>')
def rect(x, y, w, h):
    body.append(f'<draw:rect draw:style-name="l" svg:x="{x}mm" svg:y="{H - y - h}mm" svg:width="{w}mm" svg:height="{h}mm"/>')
def circle(x, y, r):
    body.append(f'<draw:ellipse draw:style-name="l" svg:x="{x - r}mm" svg:y="{H - y - r}mm" svg:width="{2 * r}mm" svg:height="{2 * r}mm"/>')
def frame(x, y, cells):
    for w, s in cells:
        rect(x, y, w, 7)
        if s: t(x + 1.5, y + 1.8, s)
        x += w
rect(10, 10, 277, 190)
rect(60, 70, 110, 70); circle(85, 105, 10); circle(140, 120, 5); circle(140, 90, 5)
line(60, 70, 60, 48); line(170, 70, 170, 48); line(60, 52, 170, 52, "a"); t(106, 53.5, "110 ±0,2")
line(60, 70, 38, 70); line(60, 140, 38, 140); line(42, 70, 42, 140, "a"); t(41, 97, "70 h11", 90)
line(85, 105, 85, 58); line(140, 90, 140, 58); line(85, 62, 140, 62, "a"); rect(107, 62.8, 9, 6); t(108.2, 64.2, "55")
line(92, 112, 110, 160, "e"); line(110, 160, 114, 160); t(115, 158.8, "Ø20 F7")
line(143.5, 123.5, 165, 172, "e"); line(165, 172, 169, 172); t(170, 170.8, "2 x Ø10"); small(186, 173, "+0,3"); small(186, 169.6, "-0,1")
line(170, 110, 195, 110); line(170, 125, 195, 125); line(192, 110, 192, 125, "a"); t(190.8, 112, "15±0,1", 90)
line(170, 100, 215, 100); line(170, 70, 215, 70); line(212, 70, 212, 100, "a"); t(210.8, 79, "30", 90)
# slanted at 30 degrees
c, s = math.cos(math.radians(30)), math.sin(math.radians(30))
line(200, 30, 200 + 60 * c, 30 + 60 * s); line(200 - 8 * s, 30 + 8 * c, 200 + 60 * c - 8 * s, 30 + 60 * s + 8 * c, "a")
t(200 + 20 * c - 10 * s, 30 + 20 * s + 10 * c, "60 ±0,5", 30)
line(168, 138, 225, 160, "e2"); line(225, 160, 229, 160); t(230, 158.8, "R4 ±0,2")
line(62, 139, 50, 168, "e2"); line(50, 168, 46, 168); t(28, 166.8, "M6-6H")
t(60, 188, "Rz 16")
frame(170, 160, [(7, None), (15, "Ø0,2"), (7, "A"), (7, "B")]); circle(173.5, 163.5, 1.5); line(171.2, 163.5, 175.8, 163.5); line(173.5, 161.2, 173.5, 165.8)
frame(230, 180, [(7, None), (13, "0,04")]); line(231, 182.3, 234, 182.3); line(234, 182.3, 236, 184.8); line(236, 184.8, 233, 184.8); line(233, 184.8, 231, 182.3)
frame(230, 120, [(7, None), (13, "0,1"), (7, "C")]); line(231.6, 121.5, 234, 125.5); line(233.4, 121.5, 235.8, 125.5)
frame(230, 105, [(7, None), (15, "0,05"), (7, "A")]); line(231.4, 106.5, 235.6, 106.5); line(233.5, 106.5, 233.5, 110.5)
rect(240, 170, 7, 7); t(241.9, 171.8, "A"); line(243.5, 177, 243.5, 180, "d")
rect(30, 120, 7, 7); t(31.9, 121.8, "B"); line(37, 123.5, 60, 123.5, "d")
line(140, 140, 140, 152); line(170, 140, 170, 152); line(140, 148, 170, 148, "a"); t(149, 149.5, "(30)")
t(14, 30, "Maße in mm, Tolerierung ISO 8015"); t(14, 24, "Allgemeintoleranzen ISO 2768-f")
for x, y, s in ((187, 10, "Grundplatte"), (237, 10, "SM-3304"), (187, 18, "Maßstab 1:1"), (237, 18, "Blatt 1 von 1")):
    rect(x, y, 50, 8); t(x + 2, y + 2.4, s)
print(f'''<?xml version="1.0" encoding="UTF-8"?>
<office:document xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:style="urn:oasis:names:tc:opendocument:xmlns:style:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0" xmlns:draw="urn:oasis:names:tc:opendocument:xmlns:drawing:1.0" xmlns:fo="urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0" xmlns:svg="urn:oasis:names:tc:opendocument:xmlns:svg-compatible:1.0" office:version="1.2" office:mimetype="application/vnd.oasis.opendocument.graphics">
<office:styles><draw:marker draw:name="Arrow" svg:viewBox="0 0 10 30" svg:d="M5 0l-5 30h10z"/><draw:marker draw:name="Datum" svg:viewBox="0 0 30 24" svg:d="M15 24l-15-24h30z"/></office:styles>
<office:automatic-styles>
<style:page-layout style:name="pl"><style:page-layout-properties fo:page-width="297mm" fo:page-height="210mm" fo:margin="0mm"/></style:page-layout>
<style:style style:name="f" style:family="graphic"><style:graphic-properties draw:stroke="none" draw:fill="none" fo:padding="0mm" draw:auto-grow-height="false" draw:auto-grow-width="false"/></style:style>
<style:style style:name="l" style:family="graphic"><style:graphic-properties svg:stroke-width="0.25mm" svg:stroke-color="#000000" draw:fill="none"/></style:style>
<style:style style:name="a" style:family="graphic"><style:graphic-properties svg:stroke-width="0.25mm" svg:stroke-color="#000000" draw:marker-start="Arrow" draw:marker-start-width="1mm" draw:marker-end="Arrow" draw:marker-end-width="1mm"/></style:style>
<style:style style:name="e" style:family="graphic"><style:graphic-properties svg:stroke-width="0.25mm" svg:stroke-color="#000000" draw:marker-start="Arrow" draw:marker-start-width="1mm"/></style:style>
<style:style style:name="e2" style:family="graphic"><style:graphic-properties svg:stroke-width="0.25mm" svg:stroke-color="#000000" draw:marker-start="Arrow" draw:marker-start-width="1mm"/></style:style>
<style:style style:name="d" style:family="graphic"><style:graphic-properties svg:stroke-width="0.25mm" svg:stroke-color="#000000" draw:marker-end="Datum" draw:marker-end-width="3mm"/></style:style>
<style:style style:name="p" style:family="paragraph"><style:paragraph-properties fo:text-align="start"/></style:style>
<style:style style:name="n" style:family="text"><style:text-properties style:font-name="DejaVu Sans" fo:font-family="'DejaVu Sans'" fo:font-size="10pt"/></style:style>
<style:style style:name="s" style:family="text"><style:text-properties fo:font-family="'DejaVu Sans'" fo:font-size="6pt"/></style:style>
</office:automatic-styles>
<office:master-styles><style:master-page style:name="m" style:page-layout-name="pl"/></office:master-styles>
<office:body><office:drawing><draw:page draw:name="p" draw:master-page-name="m">{"".join(body)}</draw:page></office:drawing></office:body></office:document>''')
