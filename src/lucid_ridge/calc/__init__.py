"""Topics of `ridge calc`: the same schemas and functions as the API, without server or database."""

from lucid_ridge import core, reports
from lucid_ridge.formats.records import settle

settle(core, reports)
