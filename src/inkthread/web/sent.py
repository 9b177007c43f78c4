"""What is sent to the API and by it, checked as pydantic does."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict


class Sent(BaseModel):
    """A form of what is sent. Its checks are built when it first is: most never are in a day."""

    model_config = ConfigDict(defer_build=True)
