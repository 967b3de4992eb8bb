"""Materials, sections, fasteners and electrodes, read from the data files beside the code."""
