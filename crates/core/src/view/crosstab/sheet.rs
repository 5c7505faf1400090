//! A cross-tab as cells for a file: the heads first, then of each column the count and every figure.

use super::{CrossCell, Crossed};
use crate::{
    access::Lens,
    id::TableId,
    import::Raw,
    schema::Kind,
    view::{Query, figure_words},
};

/// Rows and columns for a file.
#[derive(Clone, Debug, PartialEq)]
pub struct CrossSheet {
    /// The name of each column, and with how many decimals its numbers are shown.
    pub columns: Vec<(String, u32)>,
    pub rows: Vec<Vec<Raw>>,
}

impl Crossed {
    /// The same as cells: numbers as numbers, an outer value said again in each of its rows.
    pub fn sheet(&self, query: &Query, lens: &Lens<'_>, table: TableId) -> CrossSheet {
        let depth = self.rows.iter().map(|head| head.depth).max().unwrap_or(1).max(1);
        let figures: Vec<(String, u32)> = query
            .tallies
            .iter()
            .map(|tally| {
                let kind = lens.dataset().shown_kind(table, tally.field).and_then(|(_, kind)| tally.figure.shown(Some(kind.shows())));
                (figure_words(lens, table, *tally), kind.as_ref().map_or(0, Kind::decimals))
            })
            .collect();
        let many = lens.dataset().table(table).map(|home| home.def.many()).unwrap_or_default();
        let mut columns: Vec<(String, u32)> = (0..depth).map(|_| (String::new(), 0)).collect();
        for place in 0..self.columns.len() {
            let name = self.whole_text(&self.columns, place);
            let one = |what: &str| if self.columns.len() == 1 { what.to_owned() } else { format!("{name}, {what}") };
            columns.push((one(&many), 0));
            columns.extend(figures.iter().map(|(figure, decimals)| (one(figure), *decimals)));
        }
        let rows = self.rows.iter().zip(&self.cells).map(|(head, cells)| {
            let heads = (0..depth).map(|level| self.level_text(head, level));
            heads.chain(cells.iter().flat_map(|cell| raw_cells(cell.as_ref(), figures.len()))).collect()
        });
        CrossSheet { columns, rows: rows.collect() }
    }

    /// A head with the one that it stands within.
    fn whole_text(&self, heads: &[super::CrossHead], place: usize) -> String {
        let head = &heads[place];
        let outer = heads.iter().take(place).rev().find(|other| other.depth == 1).filter(|_| head.depth == 2);
        outer.map_or_else(|| head.text.clone(), |outer| format!("{}, {}", outer.text, head.text))
    }

    fn level_text(&self, head: &super::CrossHead, level: usize) -> Raw {
        let of = |text: &str| if text.is_empty() { Raw::Empty } else { Raw::Text(text.into()) };
        match (head.depth, level) {
            (2, 0) => {
                self.rows.iter().find(|other| other.depth == 1 && other.values[..] == head.values[..1]).map_or(Raw::Empty, |o| of(&o.text))
            }
            (2, 1) | (_, 0) => of(&head.text),
            _ => Raw::Empty,
        }
    }
}

fn raw_cells(cell: Option<&CrossCell>, figures: usize) -> Vec<Raw> {
    let Some(cell) = cell else { return std::iter::once(Raw::Number(0.into())).chain((0..figures).map(|_| Raw::Empty)).collect() };
    let figure = |figure: &crate::view::TallyFigure| match figure.value {
        Some(value) => Raw::Number(value.normalize()),
        None if figure.text.is_empty() => Raw::Empty,
        None => Raw::Text(figure.text.as_str().into()),
    };
    std::iter::once(Raw::Number(cell.count.into())).chain(cell.figures.iter().map(figure)).collect()
}
