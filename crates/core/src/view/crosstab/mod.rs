//! A cross-tab worked out: figures of a view's records by what they have in common down and across, totals first, and the records
//! behind a cell.

mod axis;
mod records;
mod sheet;
mod words;

pub use records::CrossRecords;
pub use sheet::CrossSheet;

use super::{
    CrossShare, CrossTab, Figure, Query, Shape, TallyFigure,
    group::Grouping,
    shape::has_shares,
    tally::Tallies,
    words::{counted, figure_words},
};
use crate::{
    access::Lens,
    fault::{Checked, Fault, FaultKind},
    id::TableId,
    schema::Hue,
    value::CellValue,
};
use axis::Axis;
use fixedbitset::FixedBitSet;
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};

/// Most values down the page, and across it.
const MOST_DOWN: usize = 400;
const MOST_ACROSS: usize = 80;
/// Most strokes in a cell, and in a total, before one stands for several records.
const MOST_STROKES: usize = 34;
const MOST_STROKES_IN_ALL: usize = 44;

/// A cross-tab worked out. Its first row and its first column are totals.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Crossed {
    pub rows: Vec<CrossHead>,
    pub columns: Vec<CrossHead>,
    /// By row and column; nothing where no record is.
    pub cells: Vec<Vec<Option<CrossCell>>>,
    /// What is told apart within each cell.
    pub within: Vec<CrossPart>,
    /// For how many records a stroke within a cell stands.
    pub stroke: usize,
    /// The same in words: *a stroke is a fault*.
    pub stroke_says: String,
    /// The most that a cell leads with, totals left out.
    pub most: Option<Decimal>,
    /// Under it: *97 faults*, *the sum of hours needed 472.5 h*, *29 without hours needed*.
    pub foot: Vec<String>,
}

/// What stands at the head of a row or a column.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CrossHead {
    pub text: String,
    /// How many values it is of: none for the total, two for one within another.
    pub depth: usize,
    /// The values that its records have in common, by which they are asked for.
    pub values: Vec<CellValue>,
    /// How many records it has.
    pub count: usize,
    /// The colour of an option.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hue: Option<Hue>,
}

/// What stands in a cell.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CrossCell {
    pub count: usize,
    /// The count as it is read, with the reader’s own signs.
    pub text: String,
    /// What it leads with, as a number.
    pub lead: Option<Decimal>,
    /// The view's figures, in their order.
    pub figures: Vec<TallyFigure>,
    /// Its share of what is asked for: *27 %*. Empty where there is none.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub share: String,
    /// How many records of each part within it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub within: Vec<usize>,
}

/// A value that is told apart within cells.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CrossPart {
    pub value: CellValue,
    /// *reported*.
    pub text: String,
    pub count: usize,
    /// Its figures: *46.0 h*.
    pub figures: Vec<TallyFigure>,
}

/// A view's records, on their way into the cells of a cross-tab.
struct Crossing<'a, 'd> {
    query: &'a Query,
    tab: &'a CrossTab,
    lens: &'a Lens<'d>,
    table: TableId,
    shown: FixedBitSet,
    grouping: Grouping,
    down: Axis,
    across: Axis,
}

impl Query {
    /// The figures of a cross-tab. Costs one pass over the table for each of its fields and figures.
    ///
    /// # Errors
    /// It is none, or has more rows or columns than anybody reads.
    pub fn crossed(&self, lens: &Lens<'_>, table: TableId) -> Checked<Crossed> {
        Ok(self.crossing(lens, table)?.told())
    }

    fn crossing<'a, 'd>(&'a self, lens: &'a Lens<'d>, table: TableId) -> Checked<Crossing<'a, 'd>> {
        let Shape::CrossTab(tab) = &self.shape else {
            return Err(Fault::new(FaultKind::BadRule, "This view is not a cross-tab.").at("/shape").into());
        };
        let shown = self.condition.matching(lens, table);
        let grouping = Grouping::new(lens, table, &tab.grouping(), None, &shown);
        let (down, across) = (tab.down.len(), tab.across.len());
        let empties = tab.empty.then_some(&self.condition);
        let axis = |levels: std::ops::Range<usize>, by: &[super::GroupBy]| Axis::new(lens, table, &grouping, levels, by, empties);
        let (rows, columns) = (axis(0..down, &tab.down), axis(down..down.saturating_add(across), &tab.across));
        for (axis, most, way) in [(&rows, MOST_DOWN, "down"), (&columns, MOST_ACROSS, "across")] {
            // The total is no value.
            let there = axis.len().saturating_sub(1);
            if there > most {
                return Err(too_many(lens, there, most, way).into());
            }
        }
        Ok(Crossing { query: self, tab, lens, table, shown, grouping, down: rows, across: columns })
    }
}

fn too_many(lens: &Lens<'_>, there: usize, most: usize, way: &str) -> Fault {
    let (there, most) = (lens.clock().customs().count_text(there), lens.clock().customs().count_text(most));
    let message = format!(
        "There would be {there} values {way}, and at most {most} are shown. Narrow the view, put days or numbers together in longer runs, or choose another field."
    );
    Fault::new(FaultKind::TooLong, message).at(format!("/shape/{way}"))
}

impl<'a, 'd> Crossing<'a, 'd> {
    /// Whether cells lead with the first figure.
    fn leads_with_figure(&self) -> bool {
        self.tab.leads_with(!self.query.tallies.is_empty())
    }

    /// Whether shares of what cells lead with can be told.
    fn has_shares(&self) -> bool {
        let figure = self.query.tallies.first().filter(|_| self.leads_with_figure()).map_or(Figure::Count, |tally| tally.figure);
        has_shares(figure)
    }

    fn count(&self, groups: &[usize]) -> usize {
        groups.iter().map(|group| self.grouping.innermost()[*group].1).sum()
    }

    /// What a cell of these groups leads with.
    fn lead(&self, count: usize, figures: &[TallyFigure]) -> Option<Decimal> {
        if self.leads_with_figure() { figures.first().and_then(|figure| figure.value) } else { Some(count.into()) }
    }

    /// The share that one number is of another, in words.
    fn share(&self, part: Option<Decimal>, whole: Option<Decimal>) -> String {
        let share = part.zip(whole).filter(|_| self.has_shares()).and_then(|(part, whole)| part.checked_div(whole));
        let customs = self.lens.clock().customs();
        match share.map(|share| (share, share.round_dp(2))) {
            None => String::new(),
            // What is there is never told as nothing.
            Some((share, rounded)) if rounded.is_zero() && !share.is_zero() => {
                format!("under {}", customs.share_text(Decimal::new(1, 2), 0))
            }
            Some((_, rounded)) => customs.share_text(rounded, 0),
        }
    }

    /// Where the values within stand among the levels.
    fn within_level(&self) -> Option<usize> {
        self.tab.within.map(|_| self.tab.down.len().saturating_add(self.tab.across.len()))
    }

    fn tallies(&self) -> Tallies<'a, 'd> {
        let groups = self.grouping.len();
        Tallies::new(self.lens, self.table, &self.query.tallies, &self.shown, &self.grouping.of_row, groups)
    }

    /// Every cell: the groups of the rows, in the order of the columns.
    fn members(&self) -> Vec<Vec<Vec<usize>>> {
        let mut members = vec![vec![Vec::new(); self.across.len()]; self.down.len()];
        for (group, (path, _)) in self.grouping.innermost().iter().enumerate() {
            for row in self.down.of(path) {
                for column in self.across.of(path) {
                    members[row][column].push(group);
                }
            }
        }
        members
    }

    fn told(mut self) -> Crossed {
        let within = self.within_level();
        let parts = within.map_or(0, |level| self.grouping.levels()[level].values.len());
        let members = self.members();
        let tallies = self.tallies();
        let cell = |groups: &Vec<usize>| {
            let count = self.count(groups);
            (count > 0).then(|| {
                let figures = tallies.over(groups.iter().copied());
                let mut of_part = vec![0_usize; parts];
                for (path, count) in groups.iter().map(|group| &self.grouping.innermost()[*group]) {
                    if let Some(part) = within.and_then(|level| path.get(level)) {
                        of_part[*part] = of_part[*part].saturating_add(*count);
                    }
                }
                let text = self.lens.clock().customs().count_text(count);
                CrossCell { count, text, lead: self.lead(count, &figures), figures, share: String::new(), within: of_part }
            })
        };
        let mut cells: Vec<Vec<Option<CrossCell>>> = members.iter().map(|row| row.iter().map(cell).collect()).collect();
        let told_within = within.map_or_else(Vec::new, |level| self.parts(level, &tallies));
        let foot = self.foot(&tallies);
        drop(tallies);
        let leads: Vec<Option<Decimal>> = cells.iter().map(|row| row.first()?.as_ref()?.lead).collect();
        let by_order = self.down.arrange(self.tab.order, &leads);
        cells = by_order.iter().map(|row| std::mem::take(&mut cells[*row])).collect();
        self.put_shares(&mut cells);
        let most = cells.iter().skip(1).flat_map(|row| row.iter().skip(1)).flatten().filter_map(|cell| cell.lead).max();
        let stroke = stroke(&cells);
        let count_of = |cell: Option<&Option<CrossCell>>| cell.and_then(Option::as_ref).map_or(0, |cell| cell.count);
        Crossed {
            rows: self.down.heads(|row| count_of(cells.get(row).and_then(|row| row.first()))),
            columns: self.across.heads(|column| count_of(cells.first().and_then(|row| row.get(column)))),
            most,
            stroke,
            stroke_says: if told_within.is_empty() { String::new() } else { words::stroke(self.lens, self.table, stroke) },
            within: told_within,
            foot,
            cells,
        }
    }

    fn put_shares(&self, cells: &mut [Vec<Option<CrossCell>>]) {
        let lead = |cell: Option<&Option<CrossCell>>| cell.and_then(Option::as_ref).and_then(|cell| cell.lead);
        let all = lead(cells.first().and_then(|row| row.first()));
        let columns: Vec<Option<Decimal>> = cells.first().map_or_else(Vec::new, |row| row.iter().map(|cell| lead(Some(cell))).collect());
        for (row, cells) in cells.iter_mut().enumerate() {
            let of_row = lead(cells.first());
            for (column, cell) in cells.iter_mut().enumerate() {
                let of = match self.tab.share {
                    // A total is told as a share of all anyway.
                    CrossShare::None if (row == 0) == (column == 0) => None,
                    CrossShare::None | CrossShare::All => all,
                    CrossShare::Row => of_row,
                    CrossShare::Column => columns.get(column).copied().flatten(),
                };
                if let Some(cell) = cell {
                    cell.share = self.share(cell.lead, of);
                }
            }
        }
    }

    /// What is told apart within cells, with what there is of each in all.
    fn parts(&self, level: usize, tallies: &Tallies<'_, '_>) -> Vec<CrossPart> {
        let of = &self.grouping.levels()[level];
        let part = |(place, value): (usize, &CellValue)| {
            let all = self.grouping.innermost().iter().enumerate();
            let groups: Vec<usize> = all.filter(|(_, (path, _))| path.get(level) == Some(&place)).map(|(group, _)| group).collect();
            CrossPart {
                value: value.clone(),
                text: axis::head_text(self.lens, self.table, of, value, false),
                count: self.count(&groups),
                figures: tallies.over(groups.iter().copied()),
            }
        };
        of.values.iter().enumerate().map(part).collect()
    }

    /// What stands under it: how many there are, each figure, and how many have nothing of it.
    fn foot(&self, tallies: &Tallies<'_, '_>) -> Vec<String> {
        let all = self.shown.count_ones(..);
        let mut foot = vec![counted(self.lens, self.table, all)];
        let figures = tallies.over(0..self.grouping.len());
        let mut lacks = std::collections::BTreeSet::new();
        for (tally, figure) in self.query.tallies.iter().zip(figures) {
            if !figure.text.is_empty() {
                foot.push(format!("{} {}", figure_words(self.lens, self.table, *tally), figure.text));
            }
            // Of several figures of one field it is told once.
            if lacks.insert(tally.field) {
                foot.extend(self.lacking(tally, all));
            }
        }
        if !self.lens.reaches_all(self.table) {
            foot.push("only what is in your reach".to_owned());
        }
        foot
    }

    /// *29 without hours needed*: a sum would be read as one of all, otherwise.
    fn lacking(&self, tally: &super::Tally, all: usize) -> Option<String> {
        let reader = self.lens.reader(self.table, tally.field);
        // Of single values none is gathered first: this is asked of every row.
        let holds = |row: &usize| match reader.is_carried() {
            true => reader.cells(*row).iter().any(|cell| !reader.is_empty(*cell)),
            false => !reader.is_empty(reader.cell(*row)),
        };
        let filled = self.shown.ones().filter(holds).count();
        let lacking = all.checked_sub(filled).filter(|lacking| *lacking > 0 && tally.figure != Figure::Count)?;
        let name = words::field(self.lens, self.table, tally.field);
        Some(format!("{} without {name}", self.lens.clock().customs().count_text(lacking)))
    }
}

/// For how many records a stroke stands, so that no cell has more than one counts at a glance.
fn stroke(cells: &[Vec<Option<CrossCell>>]) -> usize {
    let most = |totals: bool| {
        let of = |(row, cells): (usize, &Vec<Option<CrossCell>>)| {
            let wanted = cells.iter().enumerate().filter(|(column, _)| (row == 0 || *column == 0) == totals);
            wanted.filter_map(|(_, cell)| cell.as_ref()).map(|cell| cell.count).max()
        };
        // The total of all is told in words: its strokes would be the legend's.
        cells.iter().enumerate().filter(|(row, _)| *row > 0 || !totals).filter_map(of).max().unwrap_or(0)
    };
    let (of_cells, of_totals) = (most(false), most(true));
    let fits = |each: &usize| of_cells.div_ceil(*each) <= MOST_STROKES && of_totals.div_ceil(*each) <= MOST_STROKES_IN_ALL;
    let steps =
        std::iter::successors(Some(1_usize), |each| each.checked_mul(10)).flat_map(|ten| [1, 2, 5].map(|by| ten.saturating_mul(by)));
    steps.take(24).find(fits).unwrap_or(usize::MAX)
}
