//! What a formula names.

use super::{Expr, Formula, Node};
use crate::names::{Hold, See, option, path, person};

/// A formula in its place.
pub(crate) fn formula_refs(of: &mut Formula, hold: Hold, see: &mut See<'_>) {
    fn node(of: &mut Node, hold: Hold, see: &mut See<'_>) {
        match &mut of.expr {
            Expr::Option(id) => drop(option(id, hold, see)),
            Expr::Person(id) => {
                if !person(id, hold, see) {
                    // Compared with nobody, it is nobody.
                    of.expr = Expr::Text("".into());
                }
            }
            Expr::Path(named) => {
                path(&mut named.fields, hold, see);
                if let Some(inner) = &mut named.narrowed {
                    node(inner, hold, see);
                }
            }
            Expr::Call(_, arguments) => arguments.iter_mut().for_each(|argument| node(argument, hold, see)),
            Expr::Chain(first, rest) => {
                std::iter::once(&mut **first).chain(rest.iter_mut().map(|(_, part)| part)).for_each(|part| node(part, hold, see));
            }
            Expr::Binary(_, left, right) => {
                node(left, hold, see);
                node(right, hold, see);
            }
            Expr::Negate(inner) | Expr::Percent(inner) => node(inner, hold, see),
            Expr::Number(_) | Expr::Text(_) | Expr::Logical(_) | Expr::Nothing => {}
        }
    }
    node(std::sync::Arc::make_mut(&mut of.0), hold, see);
}
