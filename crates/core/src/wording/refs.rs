//! What a text with values names.

use super::{Piece, Wording};
use crate::names::{Hold, See, path};

/// A text in its place: values of what was taken out go.
pub(crate) fn wording_refs(of: &mut Wording, hold: Hold, see: &mut See<'_>) {
    of.0.retain_mut(|piece| match piece {
        Piece::Text(_) => true,
        Piece::Value(fields) | Piece::Month(fields) | Piece::Year(fields) => path(fields, hold, see),
    });
}
