"""Everything that may stop a command and says so in a sentence."""

from lucid_ridge.runtime.backup import BackupError
from lucid_ridge.runtime.cluster import ClusterError
from lucid_ridge.runtime.folder import FolderError
from lucid_ridge.runtime.serve import ServeError
from lucid_ridge.runtime.settings import SettingsError
from lucid_ridge.runtime.upgrade import UpgradeError

RUNTIME_ERRORS = (BackupError, ClusterError, FolderError, ServeError, SettingsError, UpgradeError)
