"""The web application: one folder for each feature, and what they share beside them."""

from lucid_ridge import core, reports
from lucid_ridge.formats.records import settle

settle(core, reports)
