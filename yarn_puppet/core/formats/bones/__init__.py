"""Files of bones: glTF 2.0 and BVH, read strictly. docs/poses.md has the rules."""
