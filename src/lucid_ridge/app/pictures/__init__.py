"""Pictures that came back from the camera: files, what they tell, and which frames of which takes they are."""
