"""Ticks and their texts in a browser against those of print, many of every kind."""

import json
import math
import random
from datetime import UTC, datetime

import numpy as np
import pytest

from facetine.core.query import shuffle_keys
from facetine.core.scales.calendar import instant
from facetine.core.scales.kinds import SCALES
from facetine.grammar.scale import ScaleSpec
from facetine.page.envelope import script_of
from facetine.page.views import clocks_of, format_of
from facetine.pipeline.guides.ticks import number_texts, time_axis_ticks, written_truly

pytestmark = pytest.mark.pages
MANY = 20_000
ASK = (
    "const given = arguments[0]; const kinds = new Map();"
    "const kind = (said) => { const key = JSON.stringify(said); if (!kinds.has(key)) kinds.set(key, kindOf(said)); return kinds.get(key); };"
    "return given.map((one) => 'clocks' in one ? timeTicks(one.ends, one.wanted, one.clocks, one.pattern, one.finer)"
    " : numberTicks(kind(one.said), one.ends, one.wanted, one.format)).map(({ at, minor, texts }) => [at, minor, texts]);"
)


def asked(browser, cases):
    browser.get("data:text/html,<title>axes</title>")
    code = script_of(("words", "numerals", "scales", "calendar"))
    return browser.execute_script(f"{code}\n{ASK}", cases)


def test_marks_lie_over_each_other_as_in_print(browser):
    draw = random.Random(8)
    cases = [(draw.choice([0, 1, 2, 7, 1000, 30_000]), draw.choice([0, 1, draw.randrange(2**32)])) for _ in range(60)]
    browser.get("data:text/html,<title>mixing</title>")
    ask = "return arguments[0].map(([count, seed]) => Array.from(mixedRanks(count, seed)))"
    found = browser.execute_script(f"{script_of(('order', 'mixing'))}\n{ask}", cases)
    for (count, seed), ranks in zip(cases, found, strict=True):
        assert np.array_equal(np.argsort(np.argsort(shuffle_keys(np.arange(count), seed))), ranks)


def random_ends(draw, kind):
    """Two ends of a view, of any size, some of them round."""
    if kind == "logit":
        low, high = sorted((1 / (1 + 10 ** draw.uniform(-6, 6)), 1 / (1 + 10 ** draw.uniform(-6, 6))))
    elif kind == "log":
        low = 10 ** draw.uniform(-8, 8)
        high = low * 10 ** draw.choice([draw.uniform(0.001, 0.5), draw.uniform(0.2, 3), draw.uniform(1, 12)])
    else:
        size = 10 ** draw.uniform(-6, 9)
        low = draw.choice([0.0, draw.uniform(-1, 1) * size, draw.uniform(-1, 1) * size * 10 ** draw.uniform(0, 3)])
        high = low + size * draw.uniform(0.001, 1)
    if draw.random() < 0.3 and kind != "logit":
        low, high = float(f"{low:.2g}"), float(f"{high:.3g}")
    return (low, high) if low < high else random_ends(draw, kind)


KINDS = {
    "linear": [{}, {"whole": True}],
    "log": [{"base": 10.0}, {"base": 10.0}, {"base": 2.0}],
    "logit": [{}],
    "power": [{"exponent": 0.5}, {"exponent": 3.0}],
    "signed_log": [{"threshold": 1.0}, {"threshold": 0.01}],
    "duration": [{}],
}
FORMATS = [
    None,
    None,
    None,
    ",.1f",
    ".0f",
    "percent",
    "si",
    "scientific",
    "absolute",
    "absolute percent",
    "+.2f",
    ",",
    ".1%",
    "€{value:,.2f}",
    "{value} kr",
]


@pytest.mark.parametrize("kind", KINDS)
def test_ticks_and_texts_of_numbers_are_those_of_print(kind, browser):
    draw = random.Random(f"ticks {kind}")
    cases, expected = [], []
    while len(cases) < MANY:
        options = draw.choice(KINDS[kind])
        form = draw.choice(FORMATS)
        transform = SCALES[kind].of({name: value for name, value in options.items() if name != "whole"})
        low, high = random_ends(draw, kind)
        wanted = draw.randint(2, 9)
        spec = ScaleSpec(format=form)
        whole = options.get("whole", False) and high - low > 1
        at, minor = written_truly(lambda count: transform.ticks(low, high, count, whole=whole), wanted, spec, "axis", transform)  # noqa: B023
        said = {"kind": kind, **options, "whole": whole}
        cases.append({"said": said, "ends": [low, high], "wanted": wanted, "format": None if form is None else format_of(form)})
        expected.append([list(at), list(minor), list(number_texts(at, spec, "axis", transform))])
    for start in range(0, MANY, 5_000):
        assert_same(asked(browser, cases[start : start + 5_000]), expected[start:], cases[start:])


def assert_same(found, expected, cases):
    wrong = [
        (case, told, own)
        for case, told, own in zip(cases, found, expected, strict=False)
        if told[2] != own[2]
        or not np.allclose(told[0], own[0], rtol=1e-14, atol=0)
        or not np.allclose(told[1], own[1], rtol=1e-14, atol=0)
    ]
    assert not wrong, f"{len(wrong)} differ, such as {json.dumps(wrong[:3], ensure_ascii=False)}"


ZONES = [None, None, "UTC", "Europe/Berlin", "America/New_York", "Australia/Lord_Howe", "Asia/Kolkata", "America/Sao_Paulo"]


def test_ticks_and_texts_of_times_are_those_of_print(browser):
    draw = random.Random("ticks of times")
    cases, expected, known = [], [], {}
    while len(cases) < MANY:
        zone = draw.choice(ZONES)
        pattern = draw.choice([None, None, None, "%b %Y", "%Y", "%d %b", "%H:%M", "%Y-%m-%d %H:%M:%S"])
        middle = draw.choice([draw.uniform(-2, 3), draw.uniform(1.0, 2.0)]) * 1e15
        span = 10 ** draw.uniform(2 if zone is None else 6, 15.3)
        low, high = float(round(middle)), float(round(middle + span))
        wanted = draw.randint(2, 9)
        if zone is not None and zone not in known:
            known[zone] = clocks_of(-2.1e15, 5.1e15, zone)
        finer = draw.random() < 0.3
        ticks = time_axis_ticks((low, high), ScaleSpec(format=pattern, minor_ticks=finer), zone, wanted, "axis")
        cases.append({"clocks": known.get(zone), "ends": [low, high], "wanted": wanted, "pattern": pattern, "finer": finer})
        expected.append([list(ticks.at), list(ticks.minor), list(ticks.labels)])
    for start in range(0, MANY, 5_000):
        assert_same(asked(browser, cases[start : start + 5_000]), expected[start:], cases[start:])


def test_instants_are_read_as_the_writer_reads_them(browser):
    draw = random.Random("instants")
    texts = [
        datetime.fromtimestamp(draw.randint(-(10**9), 3 * 10**9), UTC).strftime(
            draw.choice(["%Y-%m-%d", "%Y-%m-%d %H:%M", "%Y-%m-%dT%H:%M:%S", "%Y-%m", "%Y"])
        )
        for _ in range(4_000)
    ]
    for zone in (None, "Europe/Berlin", "America/Sao_Paulo"):
        clocks = None if zone is None else clocks_of(-2.1e15, 5.1e15, zone)
        code = script_of(("words", "numerals", "scales", "calendar"))
        browser.get("data:text/html,<title>axes</title>")
        found = browser.execute_script(
            f"{code}\nreturn arguments[0].map((text) => instantRead(text, arguments[1]))"
            ".map((at) => [at, instantRead(instantText(at, arguments[1]), arguments[1])]);",
            texts,
            clocks,
        )
        assert [at for at, _ in found] == [instant(text, zone, "axis") for text in texts]
        assert all(math.isclose(at, again) for at, again in found)
    wrong = ["", "2030-13-01", "2030-02-30", "2030-01-01 25:00", "tomorrow", "1.5"]
    assert browser.execute_script(f"{code}\nreturn arguments[0].map((text) => isNaN(instantRead(text, null)))", wrong) == [
        True
    ] * len(wrong)
