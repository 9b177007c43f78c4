"""The OpenAPI document made whole: every status and content type that can come back of every operation."""

from __future__ import annotations

from typing import Any

_WRITES = ("post", "put", "patch", "delete")
_ALWAYS = {
    400: "The body is no JSON that can be read",
    413: "The request is larger than 8 MB",
    421: "Another name than this machine's was asked",
    422: "What was sent is not understood, or would not be valid: the field is named, with the remedy",
    500: "The program failed, or the data file is damaged; nothing was changed",
    503: "The data file is in use or cannot be written, or too much is asked at once; nothing was changed",
}
_OF_WRITES = {
    403: "Another page than this program's own sent it",
    415: "It does not say that it is JSON",
    507: "The disk is full; nothing was changed",
}
_MEANT_FOR = {
    "name": "If-Match",
    "in": "header",
    "required": True,
    "description": "ETag of the version that the edit is meant for",
    "schema": {"type": "string", "pattern": '^"[0-9]{1,9}(-[0-9a-f]{1,40})?"$'},
}
_LABEL = {
    "name": "X-Label",
    "in": "header",
    "required": False,
    "description": "What the edit is called in undo, percent-encoded",
    "schema": {"type": "string", "pattern": "^[A-Za-z0-9%._~-]{0,400}$"},
}
_PROBLEM = "application/problem+json"


def whole_contract(contract: dict[str, Any]) -> dict[str, Any]:
    """The document that the views come to, with the errors that any request may meet."""
    reference = {"$ref": "#/components/schemas/ProblemDetails"}
    for operations in contract["paths"].values():
        for method, operation in operations.items():
            answers = operation["responses"]
            if "428" in answers:
                labelled = [_LABEL] if method == "patch" else []
                operation.setdefault("parameters", []).extend([_MEANT_FOR, *labelled])
            for status, words in {**_ALWAYS, **(_OF_WRITES if method in _WRITES else {})}.items():
                answer = answers.setdefault(str(status), {"content": {_PROBLEM: {"schema": reference}}})
                answer["description"] = words
            for status, answer in answers.items():
                content = answer.get("content", {})
                if int(status) >= 400 and "application/json" in content:
                    content[_PROBLEM] = content.pop("application/json")
            operation["responses"] = dict(sorted(answers.items()))
    return contract
