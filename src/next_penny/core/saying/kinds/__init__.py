"""What a sentence may do, kind by kind: change what there is, plan what is new, record what was."""
