"""Drawings read by the core cover what Chromium paints of the same file."""

import pytest

from fulgen.formats.drawing import read_drawing
from fulgen.problem import Problem

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'
STAR = "M50 5L79 95L3 40L97 40L21 95Z"

DRAWINGS = {
    "rounded rectangle": '<rect x="10" y="20" width="70" height="50" rx="12"/>',
    "oval corners": '<rect x="10" y="20" width="70" height="50" rx="30" ry="8"/>',
    "disc and oval": '<circle cx="30" cy="30" r="20"/><ellipse cx="70" cy="70" rx="25" ry="10"/>',
    "polygon": '<polygon points="10,10 90,20 60,80"/>',
    "open polyline": '<polyline points="10 10 90 20 60 80 20 70"/>',
    "nonzero": f'<path d="{STAR}"/>',
    "even-odd": f'<path fill-rule="evenodd" d="{STAR}"/>',
    "even-odd by a group's style": f'<g style="fill-rule: evenodd"><path d="{STAR}"/></g>',
    "even-odd by class": f"<style>.hollow {{fill-rule: evenodd}} path {{fill-rule: nonzero}}</style>"
    f'<path class="hollow" d="{STAR}"/>',
    "arcs": '<path d="M20 60A30 20 30 1 1 80 60A40 12 0 0 0 20 60Z"/>',
    "all commands": '<path d="m10 80q10-70 30-20t20 0c5 20 20 10 25 -20s10 10 10 40h-20v10l-20-5z"/>',
    "transforms": '<g transform="translate(50 50) rotate(30)"><rect x="-20" y="-10" width="40" height="20" '
    'transform="scale(1.2,.8),skewX(20)"/></g>',
    "turned about a point": '<rect x="30" y="30" width="40" height="10" transform="rotate(40 50 50)"/>',
    "matrix": '<circle r="10" transform="matrix(2 .5 -.5 1 50 50)"/>',
    "percentages": '<rect x="10%" y="10%" width="50%" height="25%"/><circle cx="70%" cy="70%" r="20%"/>',
    "millimetres": '<rect x="1mm" y="0.1in" width="12mm" height="9pt"/>',
    "hidden": '<rect width="40" height="40" visibility="hidden"/><rect x="50" width="40" height="40"/>',
    "hidden around, seen within": '<g visibility="hidden"><rect width="40" height="40"/>'
    '<rect x="50" width="30" height="40" visibility="visible"/></g>',
    "not displayed": '<g display="none"><rect width="40" height="40" display="inline"/></g>'
    '<rect x="50" width="40" height="40"/>',
    "hidden by id": '<style>#off, rect.off {visibility:hidden}</style><rect id="off" width="40" height="40"/>'
    '<rect class="off" y="50" width="40" height="40"/><rect x="50" width="40" height="40"/>',
    "a switch": '<switch><rect systemLanguage="xx" width="90" height="90"/><rect width="30" height="30"/>'
    '<rect width="60" height="60"/></switch>',
    "a copy": '<defs><path id="a" d="M0 0H20V30Z"/></defs><use href="#a" x="10" y="10"/>'
    '<use xlink:href="#a" transform="translate(40 40) scale(2)"/>',
    "a copy of a copy": '<g id="a"><rect width="10" height="10"/></g><g id="b"><use href="#a" x="20"/></g>'
    '<use href="#b" y="30" x="30"/>',
    "a symbol": '<symbol id="s" viewBox="0 0 10 20"><rect width="10" height="20" rx="4"/></symbol>'
    '<use href="#s" x="10" y="10" width="60" height="60"/>',
    "a symbol of no size": '<symbol id="s" viewBox="0 0 10 10"><circle cx="5" cy="5" r="4"/></symbol>'
    '<use href="#s"/>',
    "a nested drawing": '<svg x="10" y="10" width="60" height="30" viewBox="0 0 10 10" '
    'preserveAspectRatio="xMaxYMin"><rect width="9" height="8"/></svg>',
    "a nested drawing, stretched": '<svg x="10" y="10" width="60" height="30" viewBox="0 0 10 10" '
    'preserveAspectRatio="none"><circle cx="5" cy="5" r="4"/></svg>',
    "what is passed over": '<text y="50">Tern</text><line x2="90" y2="90" stroke="black"/><title>x</title>'
    '<defs><rect width="90" height="90"/></defs><rect width="40" height="30"/>',
    "an editor's own": '<x:page xmlns:x="http://example.org/x"><rect width="90" height="90"/></x:page>'
    '<rect width="40" height="30"/>',
    "a clip path": '<clipPath id="c"><circle cx="40" cy="40" r="30"/></clipPath>'
    '<g clip-path="url(#c)"><rect width="60" height="40"/><rect y="60" width="90" height="30"/></g>',
    "clip paths of both": '<clipPath id="c" transform="translate(10)"><rect width="40" height="90"/>'
    '</clipPath><clipPath id="d"><path clip-rule="evenodd" d="M0 0h90v90h-90zM20 20h40v40h-40z"/></clipPath>'
    '<g clip-path="url(#c)"><circle clip-path="url(#d)" cx="40" cy="40" r="38"/></g>',
    "media that does not matter": "<style>@media print { rect { fill: red } }</style>"
    '<rect width="40" height="30"/>',
}  # fmt: skip

PAINTED = """
async (svg) => {
  const image = new Image()
  image.src = URL.createObjectURL(new Blob([svg], { type: 'image/svg+xml' }))
  await image.decode()
  const canvas = new OffscreenCanvas(1000, 1000)
  const context = canvas.getContext('2d')
  context.drawImage(image, 0, 0, 1000, 1000)
  const { data } = context.getImageData(0, 0, 1000, 1000)
  let sum = 0
  for (let n = 3; n < data.length; n += 4) sum += data[n]
  return sum / 255 / 100
}
"""


def test_what_is_read_is_what_a_browser_paints(chromium):
    page = chromium.new_page()
    for name, body in DRAWINGS.items():
        svg = f'{HEAD} viewBox="0 0 100 100" width="100" height="100">{body}</svg>'
        # Text and strokes are passed over; the browser paints them, so it is not shown them.
        plain = svg.replace("Tern", "").replace('stroke="black"', "")
        painted = page.evaluate(PAINTED, plain)
        read = read_drawing(svg.encode(), "a.svg").region.area
        assert read == pytest.approx(painted, rel=4e-3), name
    page.close()


@pytest.mark.parametrize(
    ("body", "said"),
    [
        (
            '<clipPath id="c" clipPathUnits="objectBoundingBox"><circle r="1"/></clipPath>'
            '<rect clip-path="url(#c)" width="9" height="9"/>',
            "shares of a box",
        ),
        ('<style>rect {clip-path: url(#c)}</style><rect width="9" height="9"/>', "clip"),
        ('<g style="mask: url(#m)"><rect width="9" height="9"/></g>', "masks"),
        ('<rect style="transform: rotate(3deg)" width="9" height="9"/>', "where things are"),
        ('<style>g > rect {visibility: hidden}</style><rect width="9" height="9"/>', "where things are"),
        (
            "<style>@media print {rect {display: none}}</style><rect width='9' height='9'/>",
            "where things are",
        ),
        ('<rect transform="rotate(oops)" width="9" height="9"/>', "transforms"),
        ('<rect transform="rotate(3" width="9" height="9"/>', "transforms"),
        ('<rect width="9em" height="9"/>', "lengths such as"),
        ('<rect width="calc(1px + 2px)" height="9"/>', "lengths such as"),
        ('<use href="#gone"/>', "not in it"),
        ('<use href="other.svg#a"/>', "not in it"),
        ('<g id="a"><use href="#a"/><rect width="9" height="9"/></g>', "copies without end"),
    ],
)
def test_what_is_not_read_is_refused_in_words(body, said):
    with pytest.raises(Problem, match=said) as told:
        read_drawing(f'{HEAD} viewBox="0 0 100 100">{body}</svg>'.encode(), "a.svg")
    assert told.value.todo


def test_a_percentage_of_nothing_is_refused_in_words():
    with pytest.raises(Problem, match="percentages"):
        read_drawing(f'{HEAD}><rect width="50%" height="9"/></svg>'.encode(), "a.svg")
