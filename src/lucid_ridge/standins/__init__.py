"""Small simulated stand-ins for outside services, behind the interfaces that real ones would have."""
