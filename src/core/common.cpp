// A target needs a source; the work is in common_pch.h.
