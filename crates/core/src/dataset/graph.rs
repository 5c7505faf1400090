//! Which computed fields follow from which fields, across tables.

use super::Dataset;
use crate::{
    condition::{Check, Condition, When},
    formula::{Expr, Formula, Node, Turns, narrowed_table},
    id::{FieldId, TableId},
    schema::{Kind, Summary},
};
use petgraph::{
    algo::{astar, toposort},
    graphmap::DiGraphMap,
    visit::Reversed,
};
use std::collections::{BTreeSet, HashMap};

/// Something that a computed field draws on: the links to follow from its record, then the field there.
/// Carried values are followed to what they carry.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) struct Draw {
    pub(crate) links: Vec<FieldId>,
    pub(crate) field: FieldId,
}

/// The computed fields of a tracker in an order in which each comes after all it draws on.
#[derive(Debug, Default)]
pub(super) struct Graph {
    pub(super) order: Vec<ComputedField>,
    /// Fields that would need themselves, one drawing on the next; empty in a tracker that was checked.
    pub(super) circle: Vec<FieldId>,
    /// By field: the computed fields that draw on it.
    edges: HashMap<FieldId, Vec<Edge>>,
}

#[derive(Debug)]
pub(super) struct ComputedField {
    pub(super) table: TableId,
    pub(super) field: FieldId,
    pub(super) turns: Turns,
}

/// From a field to a computed field that draws on it.
#[derive(Debug)]
pub(super) struct Edge {
    /// The computed field's place in the order.
    pub(super) place: usize,
    /// The way back from the field's record: in which table, along which of its links.
    pub(super) back: Vec<(TableId, FieldId)>,
}

impl Graph {
    pub(super) fn new(ds: &Dataset) -> Self {
        let fields: Vec<(TableId, FieldId)> =
            ds.tables().flat_map(|t| t.def.fields.iter().filter(|f| f.kind.is_computed()).map(move |f| (t.def.id, f.id))).collect();
        let draws: HashMap<FieldId, Vec<Draw>> = fields.iter().map(|(table, field)| (*field, ds.draws(*table, *field))).collect();
        let all: Vec<FieldId> = fields.iter().map(|(_, field)| *field).collect();
        let (sorted, circle) = match sorted(&all, &draws) {
            Ok(sorted) => (sorted, Vec::new()),
            Err(circle) => (all, circle),
        };
        let home: HashMap<FieldId, TableId> = fields.iter().map(|(table, field)| (*field, *table)).collect();
        let mut graph = Graph { circle, ..Graph::default() };
        for field in sorted {
            let (Some(table), Some(draws)) = (home.get(&field).copied(), draws.get(&field)) else { continue };
            let place = graph.order.len();
            for draw in draws {
                let Some(back) = ds.way_back(table, &draw.links) else { continue };
                graph.edges.entry(draw.field).or_default().push(Edge { place, back });
            }
            graph.order.push(ComputedField { table, field, turns: ds.turns(table, field) });
        }
        graph
    }

    /// The most computed fields that draw one on the other, and the last of them.
    pub(super) fn longest_chain(&self) -> Option<(usize, FieldId)> {
        let mut lengths = vec![1_usize; self.order.len()];
        for (place, computed) in self.order.iter().enumerate() {
            for edge in self.edges(computed.field) {
                lengths[edge.place] = lengths[edge.place].max(lengths[place] + 1);
            }
        }
        lengths.into_iter().zip(self.order.iter().map(|computed| computed.field)).max_by_key(|(length, _)| *length)
    }

    pub(super) fn edges(&self, field: FieldId) -> &[Edge] {
        self.edges.get(&field).map_or(&[], Vec::as_slice)
    }
}

/// Fields behind all that they draw on; or one circle of fields, each drawing on the next.
fn sorted(fields: &[FieldId], draws: &HashMap<FieldId, Vec<Draw>>) -> Result<Vec<FieldId>, Vec<FieldId>> {
    let drawn = |from: &FieldId| draws.get(from).into_iter().flatten().map(|draw| draw.field).filter(|to| draws.contains_key(to));
    let mut graph = DiGraphMap::<FieldId, ()>::new();
    for field in fields {
        graph.add_node(*field);
        for to in drawn(field) {
            graph.add_edge(to, *field, ());
        }
    }
    toposort(&graph, None).map_err(|found| {
        let last = found.node_id();
        // The shortest way round, from what it draws on back to itself.
        let ways = drawn(&last).filter_map(|first| astar(Reversed(&graph), first, |field| field == last, |_| 1, |_| 0));
        let (_, mut way) = ways.min_by_key(|(length, _)| *length).unwrap_or((0, vec![last]));
        // Told from the field that was made first, wherever it was found.
        let first = (0..way.len()).min_by_key(|place| way[*place]).unwrap_or(0);
        way.rotate_left(first);
        way
    })
}

impl Dataset {
    /// What a field draws on directly; nothing for one that holds its value.
    pub(crate) fn draws(&self, table: TableId, field: FieldId) -> Vec<Draw> {
        let mut drawn = BTreeSet::new();
        match self.table(table).and_then(|t| t.def.field(field)).map(|f| &f.kind) {
            Some(Kind::Calculation { formula, .. }) => self.draw_node(&formula.0, &mut vec![(table, Vec::new())], &mut drawn),
            Some(Kind::Summary(summary)) => self.draw_summary(table, summary, &mut drawn),
            Some(Kind::Carried { .. }) => self.draw_path(table, Vec::new(), &[field], &mut drawn),
            _ => {}
        }
        drawn.into_iter().collect()
    }

    /// What a formula of a table's records draws on directly, kept in a field or not.
    pub(super) fn draws_of(&self, table: TableId, formula: &Formula) -> Vec<Draw> {
        let mut drawn = BTreeSet::new();
        self.draw_node(&formula.0, &mut vec![(table, Vec::new())], &mut drawn);
        drawn.into_iter().collect()
    }

    /// `scopes`: the tables that names may mean, innermost last, each with the links that lead to its records.
    fn draw_node(&self, node: &Node, scopes: &mut Vec<(TableId, Vec<FieldId>)>, drawn: &mut BTreeSet<Draw>) {
        let Expr::Path(path) = &node.expr else {
            return node.parts().into_iter().for_each(|part| self.draw_node(part, scopes, drawn));
        };
        let Some((home, prefix)) = scopes.iter().rev().nth(path.out).cloned() else { return };
        self.draw_path(home, prefix.clone(), &path.fields, drawn);
        let Some(condition) = &path.narrowed else { return };
        let Some(target) = narrowed_table(self, Some(home), &path.fields) else { return };
        let ends_in_link = self.shown_kind_at(home, &path.fields).is_some_and(|kind| matches!(kind, Kind::Link(_)));
        let links = if ends_in_link { &path.fields[..] } else { &path.fields[..path.fields.len() - 1] };
        let inner = self.flat_links(home, links).into_iter();
        scopes.push((target, prefix.into_iter().chain(inner).collect()));
        self.draw_node(condition, scopes, drawn);
        scopes.pop();
    }

    fn draw_summary(&self, table: TableId, summary: &Summary, drawn: &mut BTreeSet<Draw>) {
        let fields: Vec<FieldId> = summary.links.iter().copied().chain(summary.field).collect();
        self.draw_path(table, Vec::new(), &fields, drawn);
        let links = self.flat_links(table, &summary.links);
        let Some(target) = self.end_of(table, &summary.links) else { return };
        for test in summary.condition.tests() {
            self.draw_path(target, links.clone(), &test.path, drawn);
        }
    }

    /// Every link on a path, and the field at its end; of a link at its end, what stands for the records too.
    fn draw_path(&self, table: TableId, prefix: Vec<FieldId>, fields: &[FieldId], drawn: &mut BTreeSet<Draw>) {
        let mut links = prefix;
        let mut at = table;
        for field in fields {
            let Some(def) = self.table(at).and_then(|t| t.def.field(*field)) else { return };
            match &def.kind {
                Kind::Link(link) => {
                    drawn.insert(Draw { links: links.clone(), field: *field });
                    links.push(*field);
                    at = link.to;
                }
                Kind::Carried { links: on, field } => {
                    let path: Vec<FieldId> = on.iter().chain([field]).copied().collect();
                    self.draw_path(at, links.clone(), &path, drawn);
                    links.extend(self.flat_links(at, &path));
                    let Some(end) = self.end_of(at, on) else { return };
                    at = match self.shown_kind(end, *field) {
                        Some((_, Kind::Link(link))) => link.to,
                        _ => return,
                    };
                }
                _ => {
                    drawn.insert(Draw { links, field: *field });
                    return;
                }
            }
        }
        self.draw_name(at, links, drawn);
    }

    /// What names the records at the end of links, where that may be links again.
    fn draw_name(&self, table: TableId, links: Vec<FieldId>, drawn: &mut BTreeSet<Draw>) {
        // Names that go round in a circle are refused; those kept before that was so end here.
        const DEEP: usize = 100;
        if let Some(standing) = self.table(table).map(|t| t.def.standing).filter(|_| (1..DEEP).contains(&links.len())) {
            self.draw_path(table, links, &[standing], drawn);
        }
    }

    /// A path's links with carried ones followed; what is no link is left out.
    fn flat_links(&self, table: TableId, fields: &[FieldId]) -> Vec<FieldId> {
        let mut flat = Vec::new();
        let mut at = table;
        for field in fields {
            match self.table(at).and_then(|t| t.def.field(*field)).map(|f| &f.kind) {
                Some(Kind::Link(link)) => {
                    flat.push(*field);
                    at = link.to;
                }
                Some(Kind::Carried { links, field }) => {
                    let path: Vec<FieldId> = links.iter().chain([field]).copied().collect();
                    flat.extend(self.flat_links(at, &path));
                    match self.end_of(at, &path) {
                        Some(end) => at = end,
                        None => return flat,
                    }
                }
                _ => return flat,
            }
        }
        flat
    }

    /// The table that links lead to.
    pub fn end_of(&self, table: TableId, links: &[FieldId]) -> Option<TableId> {
        links.iter().try_fold(table, |at, link| match self.shown_kind(at, *link)?.1 {
            Kind::Link(link) => Some(link.to),
            _ => None,
        })
    }

    fn shown_kind_at(&self, table: TableId, fields: &[FieldId]) -> Option<&Kind> {
        let (last, links) = fields.split_last()?;
        Some(self.shown_kind(self.end_of(table, links)?, *last)?.1)
    }

    /// From the end of links back to their beginning, along their other sides.
    fn way_back(&self, table: TableId, links: &[FieldId]) -> Option<Vec<(TableId, FieldId)>> {
        let mut at = table;
        let mut back = Vec::new();
        for field in links {
            let link = self.table(at)?.link(*field)?;
            back.push((link.to, link.back));
            at = link.to;
        }
        back.reverse();
        Some(back)
    }

    fn turns(&self, table: TableId, field: FieldId) -> Turns {
        match self.table(table).and_then(|t| t.def.field(field)).map(|f| &f.kind) {
            Some(Kind::Calculation { formula, .. }) => formula.turns(),
            Some(Kind::Summary(summary)) if summary.condition.turns() => Turns::Daily,
            _ => Turns::Never,
        }
    }
}

impl Condition {
    /// Whether it names days from today.
    pub(crate) fn turns(&self) -> bool {
        let is_relative =
            |check: &Check| matches!(check, Check::Day { than: When::Today(_), .. } | Check::Older { .. } | Check::Within { .. });
        self.tests().iter().any(|test| is_relative(&test.check))
    }
}
