"""Every table of the application, for migrations."""

from lucid_ridge.app.accounts.tables import AccountRow, AttemptRow, InvitationRow, SignInRow
from lucid_ridge.app.compositions.tables import CompositionRow
from lucid_ridge.app.database import Base, Photographer
from lucid_ridge.app.field.tables import SequenceRow
from lucid_ridge.app.jobs.tables import JobRow
from lucid_ridge.app.kit.tables import KitItem
from lucid_ridge.app.logbook.tables import Take
from lucid_ridge.app.outings.tables import OutingRow
from lucid_ridge.app.outlooks.tables import OutlookRow
from lucid_ridge.app.photographs.tables import PhotographRow
from lucid_ridge.app.pictures.tables import PictureRow
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.practice.tables import PracticeRow
from lucid_ridge.app.preferences.tables import PreferencesRow
from lucid_ridge.app.review.tables import LookedRow
from lucid_ridge.app.sharing.tables import ShareRow
from lucid_ridge.app.spots.tables import SpotRow
from lucid_ridge.app.terrains.tables import TerrainRow
from lucid_ridge.app.tracks.tables import TrackRow
from lucid_ridge.app.variants.tables import VariantRow

__all__ = [
    "AccountRow",
    "AttemptRow",
    "Base",
    "CompositionRow",
    "InvitationRow",
    "JobRow",
    "KitItem",
    "LookedRow",
    "OutingRow",
    "OutlookRow",
    "PhotographRow",
    "Photographer",
    "PictureRow",
    "PlaceRow",
    "PracticeRow",
    "PreferencesRow",
    "SequenceRow",
    "ShareRow",
    "SignInRow",
    "SpotRow",
    "Take",
    "TerrainRow",
    "TrackRow",
    "VariantRow",
]
