"""The web application: one factory, the API, the static front end."""

from inkthread.web.app import create_app

__all__ = ["create_app"]
