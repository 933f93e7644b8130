"""The demo: an invented upland valley with invented kit, compositions and takes."""
