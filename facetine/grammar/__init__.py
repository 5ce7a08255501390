"""The sentence: what a figure says, as frozen values that know no drawing."""
