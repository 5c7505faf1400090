//! An order by hand: where somebody put records of a view, or lines under a record. It is kept beside them, a rank for each record
//! that was put somewhere, so that putting one elsewhere writes one rank and nothing else. A record that nobody placed stands by its
//! number, after all that were there before it: a new one is last.

use super::Query;
use crate::{
    access::{Asker, Lens},
    dataset::{Chunked, Dataset},
    id::{FieldId, RecordId, TableId, ViewId},
    rules::Rules,
    value::list_text,
};
use serde::{Deserialize, Serialize};
use std::{collections::BTreeMap, ops::Bound};

/// Most bytes of a fraction. Only somebody who puts thousands of records into one gap, each beside the last, comes to it.
const MOST_BYTES: usize = 24;

/// Where a record stands in an order: between any two there is room for another.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(try_from = "String", into = "String")]
pub struct Rank {
    /// The number of the record after which it stands, or its own; 0: before all.
    base: u32,
    /// How far behind it, as digits of base 256 after the point. The last is never zero. Nothing: the record of this number, where
    /// nobody placed it.
    fraction: Box<[u8]>,
}

/// A rank that is only looked at.
type Stand<'a> = (u32, &'a [u8]);

impl Rank {
    /// Where the record of a row stands that nobody placed.
    fn of_row(row: usize) -> Self {
        Self { base: RecordId::at_row(row).get(), fraction: Box::default() }
    }

    /// Before all others.
    fn first() -> Self {
        Self { base: 0, fraction: Box::default() }
    }

    fn of(stand: Stand<'_>) -> Self {
        Self { base: stand.0, fraction: stand.1.into() }
    }

    fn stand(&self) -> Stand<'_> {
        (self.base, &self.fraction)
    }

    /// One between two; `low` is the lower.
    fn between(low: &Self, high: &Self) -> Self {
        let end = (low.base == high.base).then_some(&*high.fraction);
        Self { base: low.base, fraction: fraction_between(&low.fraction, end) }
    }

    /// So many between two, in order; `low` is the lower.
    fn several(low: &Self, high: &Self, count: usize) -> Vec<Self> {
        fn lay(low: &Rank, high: &Rank, count: usize, into: &mut Vec<Rank>) {
            if count == 0 {
                return;
            }
            let middle = Rank::between(low, high);
            lay(low, &middle, count / 2, into);
            into.push(middle.clone());
            lay(&middle, high, count - count / 2 - 1, into);
        }
        let mut into = Vec::with_capacity(count);
        lay(low, high, count, &mut into);
        into
    }

    /// So many behind one number, at equal distances, each of at most four bytes.
    fn spread(base: u32, count: usize) -> Vec<Self> {
        let step = u64::from(u32::MAX) / (count as u64 + 1);
        let digits = |place: u64| {
            let bytes = u32::try_from(step * place).unwrap_or(u32::MAX).to_be_bytes();
            let end = bytes.iter().rposition(|byte| *byte != 0).map_or(0, |at| at + 1);
            bytes[..end].into()
        };
        (1..=count as u64).map(|place| Self { base, fraction: digits(place) }).collect()
    }
}

/// Digits of base 256 between two, as few as there can be. At an end that is open it takes one step, so that what is put first
/// again and again, or last, stays short.
fn fraction_between(low: &[u8], high: Option<&[u8]>) -> Box<[u8]> {
    let mut made = Vec::new();
    let mut high = high;
    for place in 0.. {
        let from = low.get(place).copied().map_or(0, u16::from);
        let to = high.map_or(256, |high| high.get(place).copied().map_or(0, u16::from));
        let digit = match to.saturating_sub(from) {
            0 => from,
            1 => {
                high = None;
                from
            }
            gap if place < low.len() && high.is_some() => from + gap / 2,
            _ if place < low.len() => from + 1,
            _ if high.is_some() => to - 1,
            _ => 128,
        };
        made.push(u8::try_from(digit).unwrap_or(u8::MAX));
        if to.saturating_sub(from) > 1 {
            break;
        }
    }
    made.into()
}

impl From<Rank> for String {
    fn from(rank: Rank) -> Self {
        let mut text = format!("{:08x}", rank.base);
        rank.fraction.iter().for_each(|byte| text.push_str(&format!("{byte:02x}")));
        text
    }
}

impl TryFrom<String> for Rank {
    type Error = &'static str;

    fn try_from(text: String) -> Result<Self, Self::Error> {
        const WRONG: &str = "a rank is four bytes and more, in hexadecimal digits";
        let bytes: Option<Vec<u8>> = text
            .as_bytes()
            .chunks(2)
            .map(|pair| std::str::from_utf8(pair).ok().filter(|pair| pair.len() == 2).and_then(|pair| u8::from_str_radix(pair, 16).ok()))
            .collect();
        let bytes = bytes.ok_or(WRONG)?;
        let (base, fraction) = bytes.split_at_checked(4).ok_or(WRONG)?;
        let base = base.iter().fold(0, |sum, byte| (sum << 8) | u32::from(*byte));
        Ok(Self { base, fraction: fraction.into() })
    }
}

/// Where records are put.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Spot {
    First,
    Last,
    Before(RecordId),
    After(RecordId),
}

impl Spot {
    /// The record beside which it is.
    pub(crate) fn beside(self) -> Option<RecordId> {
        match self {
            Self::First | Self::Last => None,
            Self::Before(record) | Self::After(record) => Some(record),
        }
    }
}

/// Of what records stand in an order by hand.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum OrderOf {
    View(ViewId),
    /// The link under which they stand as lines. One order serves the lines of all its records.
    Lines(FieldId),
}

/// One record's rank before and after.
pub type Placed = (RecordId, Option<Rank>, Option<Rank>);

/// The order of records that somebody put by hand.
#[derive(Clone, Debug, Default)]
pub struct OwnOrder {
    ranks: Chunked<Option<Rank>>,
    /// How many records have a rank.
    placed: usize,
}

impl OwnOrder {
    /// Gives a record a rank, or takes it away.
    pub(crate) fn set(&mut self, record: RecordId, rank: Option<Rank>) {
        let before = self.rank(record).is_some();
        self.placed = self.placed + usize::from(rank.is_some()) - usize::from(before);
        if rank.is_some() || before {
            self.ranks.set(record.row(), rank);
        }
    }

    /// The rank that somebody gave a record.
    pub(crate) fn rank(&self, record: RecordId) -> Option<&Rank> {
        self.ranks.get(record.row())?.as_ref()
    }

    /// Whether nobody has put any record anywhere.
    pub(crate) fn is_nothing(&self) -> bool {
        self.placed == 0
    }

    /// Puts some records as they stand here.
    pub(crate) fn sort(&self, records: &mut [RecordId]) {
        records.sort_by(|a, b| self.compare(a.row(), b.row()).then(a.cmp(b)));
    }

    /// The records that were placed, with their ranks.
    pub(crate) fn placed(&self) -> impl Iterator<Item = (RecordId, &Rank)> {
        let records = (0..self.ranks.len()).map(RecordId::at_row);
        records.filter_map(|record| Some((record, self.rank(record)?)))
    }

    #[inline]
    fn stand(&self, row: usize) -> Stand<'_> {
        self.ranks.get(row).and_then(Option::as_ref).map_or_else(|| (RecordId::at_row(row).get(), &[][..]), Rank::stand)
    }

    /// If the keys of two rows differ, they order as the rows do; if not, [`OwnOrder::compare`] decides.
    #[inline]
    pub(super) fn key(&self, row: usize) -> u64 {
        let (base, fraction) = self.stand(row);
        let digit = |place: usize| u64::from(fraction.get(place).copied().unwrap_or(0));
        u64::from(base) << 32 | digit(0) << 24 | digit(1) << 16 | digit(2) << 8 | digit(3)
    }

    pub(super) fn compare(&self, a: usize, b: usize) -> std::cmp::Ordering {
        self.stand(a).cmp(&self.stand(b))
    }

    /// The ranks of some records, put in this order at a spot of a table with so many rows; of others too, where room has to be
    /// made. Costs one look at every row.
    pub(crate) fn put(&self, records: &[RecordId], spot: Spot, rows: usize) -> Vec<Placed> {
        let mut carried = fixedbitset::FixedBitSet::with_capacity(rows);
        records.iter().filter(|record| record.row() < rows).for_each(|record| carried.insert(record.row()));
        let others = || (0..rows).filter(|row| !carried.contains(*row)).map(|row| self.stand(row));
        // What stands on this side of the spot, and what on that.
        let (low, high) = match spot {
            Spot::First => (Bound::Unbounded, Bound::Unbounded),
            Spot::Last => (Bound::Included((u32::MAX, &[][..])), Bound::Unbounded),
            Spot::Before(record) => (Bound::Excluded(self.stand(record.row())), Bound::Included(self.stand(record.row()))),
            Spot::After(record) => (Bound::Included(self.stand(record.row())), Bound::Excluded(self.stand(record.row()))),
        };
        let under = |stand: &Stand<'_>| match low {
            Bound::Unbounded => false,
            Bound::Included(most) => *stand <= most,
            Bound::Excluded(most) => *stand < most,
        };
        let over = |stand: &Stand<'_>| match (spot, high) {
            (Spot::Last, _) => false,
            (_, Bound::Unbounded) => true,
            (_, Bound::Included(least)) => *stand >= least,
            (_, Bound::Excluded(least)) => *stand > least,
        };
        let low = others().filter(under).max().map_or_else(Rank::first, Rank::of);
        let high = others().filter(over).min().map_or_else(|| Rank::of_row(rows), Rank::of);
        let ranks = Rank::several(&low, &high, records.len());
        if ranks.iter().all(|rank| rank.fraction.len() <= MOST_BYTES) {
            return records.iter().zip(ranks).map(|(record, rank)| self.moved(*record, rank)).collect();
        }
        self.make_room(records, &low, &carried)
    }

    fn moved(&self, record: RecordId, rank: Rank) -> Placed {
        (record, self.rank(record).cloned(), Some(rank))
    }

    /// Lays everything that stands behind one number anew, at equal distances, with what is put there after `low`.
    fn make_room(&self, records: &[RecordId], low: &Rank, carried: &fixedbitset::FixedBitSet) -> Vec<Placed> {
        let here = |(record, rank): &(RecordId, &Rank)| rank.base == low.base && !carried.contains(record.row());
        let mut there: Vec<(RecordId, &Rank)> = self.placed().filter(here).collect();
        there.sort_by_key(|(_, rank)| *rank);
        let at = there.partition_point(|(_, rank)| *rank <= low);
        let (before, after) = there.split_at(at);
        let known = |part: &[(RecordId, &Rank)]| part.iter().map(|(record, _)| *record).collect::<Vec<_>>();
        let all: Vec<RecordId> = [known(before), records.to_vec(), known(after)].concat();
        let ranks = Rank::spread(low.base, all.len());
        all.into_iter().zip(ranks).map(|(record, rank)| self.moved(record, rank)).collect()
    }

    /// The ranks with which these records stand as they do here, and after all that are not among them.
    pub(crate) fn laid(&self, records: &[RecordId], rows: usize) -> Vec<Placed> {
        let ranks = Rank::spread(Rank::of_row(rows.saturating_sub(1)).base, records.len());
        records.iter().zip(ranks).map(|(record, rank)| self.moved(*record, rank)).collect()
    }

    /// The same order among records of other numbers, which are these records' new ones.
    pub(crate) fn renumbered(&self, numbers: &BTreeMap<RecordId, RecordId>) -> Vec<(RecordId, Rank)> {
        let mut all: Vec<(RecordId, RecordId)> = numbers.iter().map(|(old, new)| (*old, *new)).collect();
        all.sort_by(|(a, _), (b, _)| self.compare(a.row(), b.row()).then(a.cmp(b)));
        let last = numbers.values().max().map_or(0, |last| last.get());
        all.into_iter().map(|(_, new)| new).zip(Rank::spread(last, numbers.len())).collect()
    }

    /// What takes every rank away.
    pub(crate) fn forgotten(&self) -> Vec<Placed> {
        self.placed().map(|(record, rank)| (record, Some(rank.clone()), None)).collect()
    }
}

impl Dataset {
    /// An order by hand, where somebody put anything in it anywhere.
    pub(crate) fn own_order(&self, of: OrderOf) -> Option<&OwnOrder> {
        self.order_of(of).filter(|order| !order.is_nothing())
    }

    /// Puts records that are linked by a field as they stand by hand under it, where they do.
    pub(crate) fn in_line_order(&self, field: FieldId, lines: &mut [RecordId]) {
        if let Some(order) = self.own_order(OrderOf::Lines(field)) {
            order.sort(lines);
        }
    }

    /// Of an order by hand, the table whose records stand in it.
    pub(crate) fn ordered_table(&self, of: OrderOf) -> Option<TableId> {
        match of {
            OrderOf::View(view) => self.view(view).map(|view| view.table),
            OrderOf::Lines(field) => self.field(field).and_then(|(home, _)| Some(home.link(field)?.to)),
        }
    }
}

impl<'a> Lens<'a> {
    /// A view's own order, where it has one and the asker knows the view.
    pub fn own_order(&self, view: ViewId) -> Option<&'a OwnOrder> {
        let ds = self.dataset();
        ds.view(view).filter(|view| self.knows(view))?;
        ds.own_order(OrderOf::View(view))
    }

    /// Whether the asker knows of what records stand in an order by hand.
    pub(crate) fn knows_order(&self, of: OrderOf) -> bool {
        match of {
            OrderOf::View(view) => self.dataset().view(view).is_some_and(|view| self.knows(view)),
            OrderOf::Lines(field) => self.dataset().field(field).is_some_and(|(home, _)| self.reads(home.def.id, field)),
        }
    }

    /// The order of the lines under a link, where somebody put any elsewhere.
    pub fn line_order(&self, field: FieldId) -> Option<&'a OwnOrder> {
        self.dataset().own_order(OrderOf::Lines(field)).filter(|_| self.knows_order(OrderOf::Lines(field)))
    }
}

/// How a view stands to an order by hand, as it is shown now.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Ordering {
    /// Somebody has put records somewhere by hand.
    pub own: bool,
    /// Why whoever looks can't put any of them elsewhere; nothing: they can.
    pub refusal: Option<String>,
}

impl Query {
    /// Whether records shown like this stand by hand, and whether the asker can put them elsewhere.
    pub fn ordering(&self, lens: &Lens<'_>, asker: Asker, table: TableId, view: Option<ViewId>) -> Ordering {
        let known = view.and_then(|id| lens.dataset().view(id)).filter(|view| lens.knows(view));
        let own = known.is_some_and(|view| lens.own_order(view.id).is_some());
        let refusal = match known {
            _ if !self.is_ordered() => Some("A calendar’s records stand on their days.".to_owned()),
            None => Some("An order by hand belongs to a view. Keep this as a view first.".to_owned()),
            Some(_) if !self.sorts.is_empty() => {
                let sorted: Vec<String> = self.sorts.iter().map(|sort| super::sort_words(lens, table, *sort)).collect();
                Some(format!("They stand {}, so that an order by hand rests. Take the sort away first.", list_text(&sorted, "then")))
            }
            Some(view) => view.may_shape(lens, asker).and_then(|()| view.stays_open()).err().map(|fault| fault.message),
        };
        Ordering { own, refusal }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn record(number: u32) -> RecordId {
        RecordId::new(number).expect("a number")
    }

    fn apply(order: &mut OwnOrder, placed: Vec<Placed>) {
        for (record, before, after) in placed {
            assert_eq!(order.rank(record), before.as_ref());
            order.set(record, after);
        }
    }

    fn in_order(order: &OwnOrder, rows: usize) -> Vec<usize> {
        let mut all: Vec<usize> = (0..rows).collect();
        all.sort_by(|a, b| order.key(*a).cmp(&order.key(*b)).then_with(|| order.compare(*a, *b)).then(a.cmp(b)));
        all
    }

    /// The slow, obvious way: a list.
    fn model(list: &mut Vec<usize>, moved: &[usize], spot: Spot) {
        let at = |list: &[usize], record: RecordId| list.iter().position(|row| *row == record.row());
        // What is carried counts as gone, its own place too.
        let place = match spot {
            Spot::First => 0,
            Spot::Last => list.len(),
            Spot::Before(record) => at(list, record).expect("there"),
            Spot::After(record) => at(list, record).expect("there") + 1,
        };
        let place = place - list[..place].iter().filter(|row| moved.contains(row)).count();
        list.retain(|row| !moved.contains(row));
        list.splice(place..place, moved.iter().copied());
    }

    fn spots(rows: u32) -> impl Strategy<Value = Spot> {
        prop_oneof![
            Just(Spot::First),
            Just(Spot::Last),
            (1..=rows).prop_map(|number| Spot::Before(record(number))),
            (1..=rows).prop_map(|number| Spot::After(record(number))),
        ]
    }

    proptest! {
        #[test]
        fn records_stand_where_they_were_put(
            moves in prop::collection::vec((prop::collection::btree_set(0_usize..12, 1..4), spots(12)), 0..40),
        ) {
            let mut order = OwnOrder::default();
            let mut list: Vec<usize> = (0..12).collect();
            for (rows, spot) in moves {
                let rows: Vec<usize> = rows.into_iter().collect();
                let records: Vec<RecordId> = rows.iter().map(|row| RecordId::at_row(*row)).collect();
                { let placed = order.put(&records, spot, 12); apply(&mut order, placed); }
                model(&mut list, &rows, spot);
                prop_assert_eq!(in_order(&order, 12), list.clone());
            }
            // New ones come last.
            list.extend([12, 13]);
            prop_assert_eq!(in_order(&order, 14), list);
        }

        #[test]
        fn a_rank_reads_as_it_was_written(base in 0_u32..u32::MAX, fraction in prop::collection::vec(any::<u8>(), 0..9)) {
            let rank = Rank { base, fraction: fraction.into() };
            let text = String::from(rank.clone());
            prop_assert_eq!(Rank::try_from(text), Ok(rank));
        }
    }

    #[test]
    fn putting_one_first_again_and_again_stays_short() {
        let mut order = OwnOrder::default();
        for turn in 0..10_000_u32 {
            let moved = record(1 + turn % 100);
            {
                let placed = order.put(&[moved], if turn % 2 == 0 { Spot::First } else { Spot::Last }, 100);
                apply(&mut order, placed);
            }
        }
        let longest = order.placed().map(|(_, rank)| rank.fraction.len()).max();
        assert!(longest <= Some(MOST_BYTES), "{longest:?}");
    }

    #[test]
    fn one_gap_takes_any_number() {
        let mut order = OwnOrder::default();
        let mut list: Vec<usize> = (0..500).collect();
        // Always between the last two that were put: the worst there is.
        for number in 3..=500 {
            let spot = if number % 2 == 0 { Spot::Before(record(number - 1)) } else { Spot::After(record(number - 1)) };
            {
                let placed = order.put(&[record(number)], spot, 500);
                apply(&mut order, placed);
            }
            model(&mut list, &[record(number).row()], spot);
        }
        assert_eq!(in_order(&order, 500), list);
        assert!(order.placed().all(|(_, rank)| rank.fraction.len() <= MOST_BYTES));
    }

    #[test]
    fn many_at_once_take_few_bytes() {
        let order = OwnOrder::default();
        let all: Vec<RecordId> = (1..=10_000).rev().map(record).collect();
        let placed = order.put(&all, Spot::First, 10_000);
        assert!(placed.iter().all(|(_, _, rank)| rank.as_ref().is_some_and(|rank| rank.fraction.len() <= MOST_BYTES)));
    }
}
