"""How much room a job needs, and a piece of stock has, mm: along a roll or across a sheet, and the other way."""

import numpy as np

from jigger.core.cut.paths.toolpath import ToolPath
from jigger.core.materials.stock import StockPiece

COARSE = 0.2  # mm


def needed(path: ToolPath) -> tuple[float, float]:
    """By all that a tool does."""
    points = np.concatenate([stroke.flattened(COARSE) for stroke in path.strokes])
    wide, high = (points.max(axis=0) - points.min(axis=0)).tolist()
    return wide, high


def room_of(piece: StockPiece) -> tuple[float, float]:
    """Of a piece, or of each of several alike."""
    return (piece.length, piece.width) if piece.form == "roll" else (piece.width, piece.length)
