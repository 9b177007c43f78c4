"""Wholes side by side and versions held against each other, as the program answers them."""

from __future__ import annotations

import time

from tests.web.test_api import LARKSPUR, patch


def waited(client, url, **query):
    """A study, asked for until it is there."""
    until = time.monotonic() + 60
    while True:
        reply = client.get(url, query_string=query)
        if reply.status_code != 202 or time.monotonic() > until:
            return reply
        time.sleep(0.1)


def test_wholes_are_offered_and_worked_out_beside_the_server(client):
    offered = client.get(f"{LARKSPUR}/wholes").json
    assert offered["times"]
    assert "common practice" in offered["source"]
    ids = [o["id"] for o in offered["wholes"] if o["kind"] == "wire"][:1]
    reply = waited(client, f"{LARKSPUR}/trade", ids="|".join(ids))
    assert reply.status_code == 200
    assert [w["id"] for w in reply.json["wholes"]] == ["now", *ids]


def test_an_earlier_version_is_held_against_this_one(client):
    first = client.get(LARKSPUR).json
    name, branch = next(iter(first["document"]["route"]["branches"].items()))
    path = f"/route/branches/{name}/length_mm"
    operations = [{"op": "replace", "path": path, "value": branch["length_mm"] + 500}]
    assert patch(client, operations, first["version"]).status_code == 200
    told = client.get(f"{LARKSPUR}/differences?other=larkspur&at={first['version']}").json["differences"]
    assert told["after"]["metres"] > told["before"]["metres"]
    assert told["cuts"]
    kept = client.get(f"{LARKSPUR}/versions").json["versions"]
    assert kept[0]["version"] == first["version"] + 1
    same = client.get(f"{LARKSPUR}/differences?other=larkspur").json["differences"]
    assert (same["bill"], same["cuts"]) == ([], [])
    assert client.get(f"{LARKSPUR}/differences?other=larkspur&at=999").status_code == 404
    assert client.get(f"{LARKSPUR}/differences?other=nobody").status_code == 404
