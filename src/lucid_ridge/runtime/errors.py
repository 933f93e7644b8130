"""Everything that may stop a command and says so in a sentence."""

from lucid_ridge.app.problems import StoreTrouble
from lucid_ridge.formats.sealed import SealedError
from lucid_ridge.runtime.certificates import CertificateError
from lucid_ridge.runtime.cluster import ClusterError
from lucid_ridge.runtime.folder import FolderError
from lucid_ridge.runtime.people import PeopleError
from lucid_ridge.runtime.settings import SettingsError
from lucid_ridge.runtime.upgrade import UpgradeError
from lucid_ridge.runtime.web import ServeError

RUNTIME_ERRORS = (
    SealedError,
    CertificateError,
    ClusterError,
    FolderError,
    PeopleError,
    ServeError,
    SettingsError,
    StoreTrouble,
    UpgradeError,
)
