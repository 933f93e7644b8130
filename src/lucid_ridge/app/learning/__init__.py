"""What one's takes teach: values of one's own, taken on and given up."""
