// A target needs a source; the work is in test_pch.h.
