"""A price that the shop corrects goes everywhere, by the piece or the metre as the part is billed."""

from __future__ import annotations

import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.core.catalogue.prices import with_prices
from inkthread.core.document import parse_document
from inkthread.core.evaluate import evaluate
from inkthread.demo import DEMOS, demo_document

SHIPPED = shipped_catalogue()


@pytest.mark.parametrize("name", DEMOS)
def test_every_line_of_a_bill_costs_what_the_shop_says(name):
    document = parse_document(demo_document(name))
    before = evaluate(document, SHIPPED).parts
    prices = {line.code: 7.0 for line in before.lines if line.group != "block"}
    after = evaluate(document, with_prices(SHIPPED, prices)).parts
    by_key = {(x.group, x.key): x for x in after.lines}
    seen = 0
    for line in before.lines:
        same = by_key.get((line.group, line.key))
        if same is None or line.group == "block" or line.included or "not held" in line.description:
            continue
        cores = int(line.colour.split()[0]) if line.colour.endswith("cores") else 1
        assert same.cost == pytest.approx(7.0 * same.to_order, rel=1e-6, abs=0.011), (line.code, cores)
        seen += 1
    assert seen > 5


def test_without_prices_it_is_the_very_same():
    assert with_prices(SHIPPED, {}) is SHIPPED
    other = with_prices(SHIPPED, {"SS15-P2": 1.11, "NO-SUCH-PART": 3})
    assert other.connectors["SS15"].housing(2).shells["plug"].price == 1.11
    assert other.connectors["SR16"] is SHIPPED.connectors["SR16"]
    assert other.tools is SHIPPED.tools
