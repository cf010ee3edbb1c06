"""The OpenRPC document (https://spec.open-rpc.org) of the live wire, made of the very types that
the code reads."""

from __future__ import annotations

from typing import Any

import msgspec

from .messages import ERRORS, METHODS, NOTIFICATIONS, PROTOCOL

TITLE = "The live wire of Yarn Puppet"


def document() -> dict[str, Any]:
    """All methods, their parameters by name, results and errors. What the desk sends unasked stands
    under `x-notifications`."""
    kinds = [kind for parameters, results, _ in METHODS.values() for kind in (parameters, *results)]
    kinds += [kind for kind, _ in NOTIFICATIONS.values()]
    schemas, components = msgspec.json.schema_components(
        kinds, ref_template="#/components/schemas/{name}")
    found = iter(schemas)
    methods = []
    for name, (_, kinds_of_result, what) in METHODS.items():
        parameters, results = components[_name(next(found))], [next(found) for _ in kinds_of_result]
        required = set(parameters.get("required", ()))
        methods.append({
            "name": name, "summary": what, "paramStructure": "by-name",
            "params": [{"name": each, "required": each in required, "schema": schema}
                       for each, schema in parameters["properties"].items()],
            "result": {"name": "result",
                       "schema": results[0] if len(results) == 1 else {"oneOf": results}},
            "errors": [{"code": code, "message": said} for code, said in ERRORS.items()],
        })
    notifications = [{"name": name, "summary": what, "params": next(found)}
                     for name, (_, what) in NOTIFICATIONS.items()]
    return {
        "openrpc": "1.3.2", "info": {"title": TITLE, "version": f"{PROTOCOL}.0.0"},
        "methods": methods,
        "x-notifications": notifications, "components": {"schemas": components},
    }


def _name(schema: dict[str, Any]) -> str:
    return str(schema["$ref"]).rpartition("/")[2]


def document_bytes() -> bytes:
    """It as a file."""
    return msgspec.json.format(msgspec.json.encode(DOCUMENT), indent=1) + b"\n"


DOCUMENT = document()
