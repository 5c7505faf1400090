//! An independent model of access, written apart from the lens and slow on purpose: each record and each field by itself, by
//! going through a person's roles. The lens is checked against it, for persons with none, one, two and three roles.

mod work;

use crate::fixture::*;
use proptest::prelude::*;
use std::collections::{BTreeMap, BTreeSet};
use westerfall_core::{
    access::{AccessQuestion, AskedOf, Asker, Base, FieldRight, Lens, Reach, Right, Role, TableRights},
    condition::{Check, Condition, Test, Who},
    dataset::Dataset,
    id::{AreaId, FieldId, GroupId, PersonId, RecordId, RoleId, TableId, TrackerId},
    intent::{Edit, Intent},
    part::Part,
    people::{Actor, Area, AreaRight, Group},
    schema::Kind,
    team::{Team, TeamPart},
    value::{Input, Value},
    view::{GroupBy, Order, Query, ShownField, Window},
};

/// The number of the demo's tracker.
const HERE: TrackerId = TrackerId::new(1).unwrap();

/// What the model knows of a person: what each of their roles says of a table.
struct Model<'a> {
    ds: &'a Dataset,
    me: PersonId,
    /// The volunteers under their address.
    own: Vec<RecordId>,
    /// What the area in which the tracker lies gives them.
    opened: Vec<AreaRight>,
}

impl<'a> Model<'a> {
    fn new(ds: &'a Dataset, me: PersonId) -> Self {
        let (volunteers, mail) = (table(ds, "Volunteers"), field(ds, "Volunteers.Mail"));
        let address = ds.people.get(me).unwrap().mail.to_lowercase();
        let is = |record: &RecordId| matches!(value(ds, volunteers, *record, mail), Value::Text(mail) if mail.to_lowercase() == address);
        let areas = ds.people.areas().filter(|area| area.trackers.contains(&HERE));
        let groups = areas.flat_map(|area| &area.opens).filter(|(group, _)| ds.people.is_in(**group, me));
        let opened = groups.map(|(_, right)| *right).collect();
        Self { ds, me, own: records(ds, volunteers).into_iter().filter(is).collect(), opened }
    }

    /// Whether a volunteer is the person: the one of their address.
    fn is_me(&self, record: RecordId) -> bool {
        self.own == [record]
    }

    fn rights(&self, table: TableId) -> Vec<TableRights> {
        let grouped = |role: &&Role| self.ds.people.groups().any(|g| role.groups.contains(&g.id) && g.members.contains(&self.me));
        let mine = self.ds.roles().filter(|role| role.members.contains(&self.me) || grouped(role));
        let by_area = self.opened.iter().map(|right| match right {
            AreaRight::Look => TableRights { look: Reach::All, ..TableRights::default() },
            AreaRight::Work => {
                TableRights { look: Reach::All, add: true, change: Reach::All, remove: Reach::All, ..TableRights::default() }
            }
        });
        mine.map(|role| match (role.base, role.tables.get(&table)) {
            (Base::Steward, _) | (Base::Builder | Base::Editor, None) => {
                TableRights { look: Reach::All, add: true, change: Reach::All, remove: Reach::All, ..TableRights::default() }
            }
            (_, Some(said)) => said.clone(),
            (Base::Submitter, None) => TableRights { look: Reach::Mine, add: true, change: Reach::Mine, ..TableRights::default() },
            (Base::Reader, None) => TableRights { look: Reach::All, ..TableRights::default() },
            (Base::Own, None) => TableRights::default(),
        })
        .chain(by_area)
        .collect()
    }

    fn reached(&self, reach: &Reach, table: TableId, record: RecordId) -> bool {
        match reach {
            Reach::None => false,
            Reach::All => true,
            Reach::Mine => self.is_mine(table, record),
            Reach::Where(Condition::Test(Test { path, check: Check::MyRecord { not }, .. })) => {
                let named = matches!(value(self.ds, table, record, path[0]), Value::Links(links) if links.iter().any(|r| self.is_me(*r)));
                self.own.len() == 1 && named != *not
            }
            Reach::Where(condition) => {
                let clock = clock();
                condition.holds(&Lens::of_everything(self.ds, Some(self.me), &clock), table, record)
            }
        }
    }

    fn is_mine(&self, table: TableId, record: RecordId) -> bool {
        let home = self.ds.table(table).unwrap();
        let holds = |field: Option<FieldId>| field.map_or(Value::Empty, |f| value(self.ds, table, record, f));
        let maker = kept(self.ds, table, record).unwrap().meta.created_by;
        let address = matches!(holds(home.def.mine.address), Value::Text(a) if a.to_lowercase() == self.ds.people.get(self.me).unwrap().mail.to_lowercase());
        maker == Actor::Person(self.me) && home.def.mine.made
            || home.def.mine.own.is_some() && self.is_me(record)
            || holds(home.def.mine.entered_for) == Value::Person(self.me)
            || matches!(maker, Actor::Form(_)) && address
    }

    fn looks(&self, table: TableId, record: RecordId) -> bool {
        self.rights(table).iter().any(|r| self.reached(&r.look, table, record))
    }

    fn may(&self, right: Right, table: TableId, record: RecordId) -> bool {
        let reach = |r: &TableRights| match right {
            Right::Look => r.look.clone(),
            Right::Change => r.change.clone(),
            Right::Remove => r.remove.clone(),
        };
        self.looks(table, record) && self.rights(table).iter().any(|r| self.reached(&reach(r), table, record))
    }

    /// A field of a record is readable by a role that gives both.
    fn reads(&self, table: TableId, record: RecordId, field: FieldId) -> bool {
        let said = |r: &TableRights| r.fields.get(&field).copied().unwrap_or(FieldRight::Change);
        self.rights(table).iter().any(|r| said(r) != FieldRight::Hidden && self.reached(&r.look, table, record))
    }

    fn writes(&self, table: TableId, record: RecordId, field: FieldId) -> bool {
        let said = |r: &TableRights| r.fields.get(&field).copied().unwrap_or(FieldRight::Change);
        self.reads(table, record, field)
            && self.rights(table).iter().any(|r| said(r) == FieldRight::Change && self.reached(&r.change, table, record))
    }

    fn released(&self, table: TableId, record: RecordId, field: FieldId) -> bool {
        let said = |r: &TableRights| r.fields.get(&field).copied().unwrap_or(FieldRight::Change);
        self.rights(table)
            .iter()
            .any(|r| said(r) != FieldRight::Hidden && r.released.contains(&field) && self.reached(&r.look, table, record))
    }

    /// Whether every record on the way of a carried value, and every link and the field at its end, may be read.
    fn carries(&self, table: TableId, record: RecordId, field: FieldId) -> bool {
        if !self.reads(table, record, field) {
            return false;
        }
        let home = self.ds.table(table).unwrap();
        let Kind::Carried { links, field: end } = &home.def.field(field).unwrap().kind else { return true };
        if self.released(table, record, field) {
            return true;
        }
        let mut at = (table, vec![record]);
        for link in links {
            if !at.1.iter().all(|r| self.reads(at.0, *r, *link)) {
                return false;
            }
            let home = self.ds.table(at.0).unwrap();
            let to = home.link(*link).unwrap().to;
            let next: Vec<RecordId> = at.1.iter().flat_map(|r| linked(self.ds, at.0, *r, *link)).collect();
            if !next.iter().all(|r| !is_live(self.ds, to, *r) || self.looks(to, *r)) {
                return false;
            }
            at = (to, next.into_iter().filter(|r| is_live(self.ds, to, *r)).collect());
        }
        let names_nobody_out_of_reach = |r: &RecordId| match self.ds.table(at.0).unwrap().link(*end) {
            None => true,
            Some(link) => {
                let named = linked(self.ds, at.0, *r, *end);
                named.iter().all(|t| !is_live(self.ds, link.to, *t) || self.looks(link.to, *t))
            }
        };
        at.1.iter().all(|r| self.carries(at.0, *r, *end) && names_nobody_out_of_reach(r))
    }
}

fn is_live(ds: &Dataset, table: TableId, record: RecordId) -> bool {
    kept(ds, table, record).is_some_and(|kept| !kept.meta.gone)
}

fn any_reach(ds: &Dataset) -> impl Strategy<Value = Reach> + use<> {
    let f = |path: &str| field(ds, path);
    let district = vec![f("Faults.Section"), f("Sections.District"), f("Districts.Warden")];
    let status = f("Faults.Status");
    let reported = option(ds, "Faults.Status.reported");
    prop_oneof![
        2 => Just(Reach::None),
        2 => Just(Reach::All),
        2 => Just(Reach::Mine),
        2 => Just(Reach::Where(test(&district, Check::Person { not: false, any: vec![Who::Me] }))),
        1 => any::<bool>().prop_map(move |not| Reach::Where(test(&[status], Check::Option { not, any: vec![reported] }))),
    ]
}

/// What a role says of *Faults*, with any field right, and of *Sections* and *Districts*.
fn any_role(ds: &Dataset) -> impl Strategy<Value = BTreeMap<TableId, TableRights>> + use<> {
    let [faults, sections, districts, parties, volunteers] =
        ["Faults", "Sections", "Districts", "Work parties", "Volunteers"].map(|name| table(ds, name));
    let fields = |at: TableId| ds.table(at).unwrap().def.fields.iter().map(|f| f.id).collect::<Vec<_>>();
    let right = || prop::sample::select(vec![FieldRight::Hidden, FieldRight::Read, FieldRight::Change]);
    let said = move |list: Vec<FieldId>| {
        let most = list.len().min(8);
        prop::sample::subsequence(list, 0..=most).prop_flat_map(move |some| {
            prop::collection::vec(right(), some.len())
                .prop_map(move |rights| some.clone().into_iter().zip(rights).collect::<BTreeMap<_, _>>())
        })
    };
    let released = prop::sample::subsequence(vec![field(ds, "Faults.District"), field(ds, "Faults.Warden")], 0..=2);
    let of_faults = (any_reach(ds), any_reach(ds), any_reach(ds), any::<bool>(), said(fields(faults)), released).prop_map(
        |(look, change, remove, add, fields, released)| TableRights {
            look,
            add,
            change,
            remove,
            fields,
            rest: FieldRight::Change,
            released: released.into_iter().collect(),
        },
    );
    let simple = || prop_oneof![Just(Reach::All), Just(Reach::None)];
    let of_sections = (simple(), said(fields(sections)).prop_map(|all| all.into_iter().take(4).collect()))
        .prop_map(|(look, fields)| TableRights { look, fields, ..TableRights::default() });
    let of_districts = simple().prop_map(|look| TableRights { look, ..TableRights::default() });
    let on = vec![field(ds, "Work parties.Volunteers")];
    let whose = prop_oneof![simple(), any::<bool>().prop_map(move |not| Reach::Where(test(&on, Check::MyRecord { not })))];
    let of_parties = (whose.clone(), whose).prop_map(|(look, change)| TableRights { look, change, ..TableRights::default() });
    let own = || prop_oneof![simple(), Just(Reach::Mine)];
    let of_volunteers = (own(), own()).prop_map(|(look, change)| TableRights { look, change, ..TableRights::default() });
    (of_faults, of_sections, of_districts, of_parties, of_volunteers)
        .prop_map(move |(a, b, c, d, e)| [(faults, a), (sections, b), (districts, c), (parties, d), (volunteers, e)].into())
}

/// The demo with these roles for one person in place of all that they held.
fn with_roles(roles: Vec<BTreeMap<TableId, TableRights>>, person: PersonId) -> Dataset {
    within(None, roles, person)
}

/// The same in an area that gives them something beside.
fn within(opened: Option<AreaRight>, roles: Vec<BTreeMap<TableId, TableRights>>, person: PersonId) -> Dataset {
    upon(demo(), opened, roles, person)
}

/// The same upon what was done before.
fn upon(mut ds: Dataset, opened: Option<AreaRight>, roles: Vec<BTreeMap<TableId, TableRights>>, person: PersonId) -> Dataset {
    let mut number = 900;
    let crew = GroupId::new(9).unwrap();
    let mut team = Team::default();
    ds.people.iter().for_each(|known| team.load_part(TeamPart::Person(known.clone())));
    for group in ds.people.groups() {
        let members = group.members.iter().copied().filter(|member| *member != person).collect();
        team.load_part(TeamPart::Group(Group { members, ..group.clone() }));
    }
    team.load_part(TeamPart::Group(Group { id: crew, name: "Crew".into(), members: [person].into(), pins: Vec::new() }));
    let opens = opened.map(|right| (crew, right)).into_iter().collect();
    let area = Area { id: AreaId::FIRST, name: "Fells".into(), about: String::new(), trackers: vec![HERE], opens };
    team.load_part(TeamPart::Area(area));
    ds = ds.numbered(HERE).with_people(team.people().clone());
    for mut role in ds.roles().cloned().collect::<Vec<_>>() {
        if role.members.remove(&person) {
            ds.load_part(&Part::Role(role));
        }
    }
    for tables in roles {
        number += 1;
        let role = Role {
            id: RoleId::new(number).unwrap(),
            name: format!("Role {number}"),
            base: Base::Own,
            // Some hold it by their own name, some through a group.
            members: BTreeSet::from_iter((number % 2 == 0).then_some(person)),
            groups: BTreeSet::from_iter((number % 2 == 1).then_some(crew)),
            about: String::new(),
            tables,
        };
        ds.load_part(&Part::Role(role));
    }
    // Half of the people are a volunteer too, under their address in capitals.
    if person.get() % 2 == 1 {
        let mail = ds.people.get(person).unwrap().mail.to_uppercase();
        let edit = Edit { field: field(&ds, "Volunteers.Mail"), input: typed(&mail), was: None };
        let intent = Intent::Edit { table: table(&ds, "Volunteers"), record: record(5), edits: vec![edit] };
        act(&mut ds, Asker::Westerfall, &intent).unwrap();
    }
    ds
}

fn any_opening() -> impl Strategy<Value = Option<AreaRight>> {
    prop::sample::select(vec![None, None, Some(AreaRight::Look), Some(AreaRight::Work)])
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(96))]

    #[test]
    fn the_lens_gives_what_the_model_gives(
        roles in prop::collection::vec(any_role(&demo()), 0..=3), who in 1_u32..=8, opened in any_opening(),
    ) {
        let me = PersonId::new(who).unwrap();
        let ds = within(opened, roles, me);
        let clock = clock();
        let asker = Asker::Person(me);
        let (lens, whole, model) = (Lens::new(&ds, asker, &clock), Lens::of_everything(&ds, None, &clock), Model::new(&ds, me));
        for name in ["Faults", "Sections", "Districts", "Work parties", "Volunteers"] {
            let at = table(&ds, name);
            let home = ds.table(at).unwrap();
            let mut count = 0;
            for record in records(&ds, at) {
                count += usize::from(model.looks(at, record));
                for right in [Right::Look, Right::Change, Right::Remove] {
                    prop_assert_eq!(lens.may(right, at, record), model.may(right, at, record), "{:?} of {} {}", right, name, record);
                }
            }
            prop_assert_eq!(lens.count(at), count);
            if name == "Work parties" || name == "Volunteers" {
                continue;
            }
            for def in &home.def.fields {
                if matches!(def.kind, Kind::Calculation { .. } | Kind::Summary(_) | Kind::Button { .. }) {
                    continue;
                }
                let reader = lens.reader(at, def.id);
                for record in records(&ds, at).into_iter().filter(|r| model.looks(at, *r)) {
                    let open = model.carries(at, record, def.id);
                    let there = whole.text_at(at, record, def.id);
                    let told = lens.text_at(at, record, def.id);
                    if !open {
                        prop_assert!(reader.cells(record.row()).is_empty() && told.is_empty(), "{} of {} {} is told: {}", def.name, name, record, told);
                    } else if !matches!(ds.shown_kind(at, def.id).unwrap().1, Kind::Link(_)) {
                        prop_assert_eq!(&told, &there, "{} of {} {}", &def.name, name, record);
                    }
                    prop_assert_eq!(lens.shows(at, record, def.id), model.reads(at, record, def.id));
                    if def.kind.takes_input() {
                        prop_assert_eq!(lens.changes(at, record, def.id), model.writes(at, record, def.id), "{} of {} {}", &def.name, name, record);
                    }
                }
            }
        }
    }

    /// What is answered to *why* is what the lens decides, of records and of fields.
    #[test]
    fn why_tells_the_decision_that_holds(
        roles in prop::collection::vec(any_role(&demo()), 0..=3), who in 1_u32..=8, number in 1_u32..60, field in any::<prop::sample::Index>(),
        opened in any_opening(),
    ) {
        let me = PersonId::new(who).unwrap();
        let ds = within(opened, roles, me);
        let clock = clock();
        let (whole, lens) = (Lens::of_everything(&ds, None, &clock), Lens::new(&ds, Asker::Person(me), &clock));
        for name in ["Faults", "Sections", "Work parties", "Volunteers"] {
            let (at, record) = (table(&ds, name), record(number));
            if !is_live(&ds, at, record) {
                continue;
            }
            let asked = |right, field| whole.why_access(AccessQuestion { whom: AskedOf::Person(me), right, table: at, record, field }).unwrap().holds;
            for right in [Right::Look, Right::Change, Right::Remove] {
                prop_assert_eq!(asked(right, None), lens.may(right, at, record), "{:?} of {} {}", right, name, record);
            }
            let fields = &ds.table(at).unwrap().def.fields;
            let def = &fields[field.index(fields.len())];
            let shown = lens.shows(at, record, def.id) && (!def.kind.is_computed() || lens.tells_computed(at, record, def.id));
            prop_assert_eq!(asked(Right::Look, Some(def.id)), shown, "{} of {} {}", &def.name, name, record);
            let changes = def.kind.takes_input() && lens.changes(at, record, def.id);
            prop_assert_eq!(asked(Right::Change, Some(def.id)), changes, "{} of {} {}", &def.name, name, record);
        }
    }

    /// By no query, whatever it groups, sorts and is narrowed by, more is told than each cell by itself tells.
    #[test]
    fn queries_tell_no_more_than_the_model(
        roles in prop::collection::vec(any_role(&demo()), 1..=3), who in 1_u32..=8,
        by in any::<prop::sample::Index>(), sorted in any::<prop::sample::Index>(), condition in any_condition(),
    ) {
        let me = PersonId::new(who).unwrap();
        let ds = with_roles(roles, me);
        let clock = clock();
        let (lens, model) = (Lens::new(&ds, Asker::Person(me), &clock), Model::new(&ds, me));
        let at = table(&ds, "Faults");
        let fields: Vec<FieldId> = ds.table(at).unwrap().def.fields.iter().map(|f| f.id).collect();
        let order = |at: prop::sample::Index| vec![Order { field: fields[at.index(fields.len())], descending: false }];
        let shown = fields.iter().map(|f| ShownField { field: *f, width: 80 }).collect();
        let query = Query { condition: condition.as_open_to(&lens, at), groups: vec![GroupBy::of(order(by)[0].field)], sorts: order(sorted), fields: shown, ..Query::default() };
        let Ok(query) = query.asked_by(&lens, at) else { return Ok(()) };
        let outcome = query.run(&lens, at, &Window { rows: 0..500, keep: &[], own: None });
        prop_assert!(outcome.window.iter().all(|r| model.looks(at, *r)));
        let told: Vec<FieldId> = query.fields.iter().map(|f| f.field).collect();
        for row in lens.rows(at, &outcome.window, &told) {
            for (field, cell) in told.iter().zip(&row.cells) {
                prop_assert!(cell.is_none() || model.reads(at, row.id, *field), "{} of {}", field, row.id);
            }
        }
        // A group's value is the value of somebody's readable cell.
        if let Some(group) = query.groups.first() {
            for found in outcome.groups.iter().filter(|g| g.value != Value::Empty) {
                let somebody = records(&ds, at).into_iter().any(|r| model.looks(at, r) && model.reads(at, r, group.field));
                prop_assert!(somebody, "a group of {} is told: {:?}", group.field, found.text);
            }
        }
    }

    /// Writing is open exactly where the model says so; what is not seen is not found.
    #[test]
    fn edits_are_taken_where_the_model_says(roles in prop::collection::vec(any_role(&demo()), 0..=3), who in 1_u32..=8, number in 1_u32..110) {
        let me = PersonId::new(who).unwrap();
        let ds = with_roles(roles, me);
        let model = Model::new(&ds, me);
        let at = table(&ds, "Faults");
        let record = record(number);
        if !is_live(&ds, at, record) {
            return Ok(());
        }
        for name in ["What is wrong", "Reporter’s mail", "Hours needed", "Planned for"] {
            let id = field(&ds, &format!("Faults.{name}"));
            let text = match name { "Hours needed" => "7", "Planned for" => "3 Mar 2027", "Reporter’s mail" => "a@walkers.example", _ => "Changed" };
            let edit = Intent::Edit { table: at, record, edits: vec![Edit { field: id, input: Input::Text(text.into()), was: None }] };
            let taken = ds.decide(&edit, Asker::Person(me), &clock()).is_ok();
            let may = model.may(Right::Change, at, record) && model.writes(at, record, id);
            prop_assert_eq!(taken, may, "{} of {}", name, record);
        }
        let gone = Intent::Remove { table: at, records: vec![record] };
        prop_assert_eq!(ds.decide(&gone, Asker::Person(me), &clock()).is_ok(), model.may(Right::Remove, at, record));
    }
}

/// Two roles of one person add up per record: a field that one hides on all is shown where the other shows it, and nowhere else.
#[test]
fn a_field_that_one_role_hides_is_shown_where_another_shows_it() {
    let base = demo();
    let at = table(&base, "Faults");
    let (mail, title) = (field(&base, "Faults.Reporter’s mail"), field(&base, "Faults.What is wrong"));
    let all_but_mail = TableRights { look: Reach::All, fields: [(mail, FieldRight::Hidden)].into(), ..TableRights::default() };
    let nothing_here = [(table(&base, "Materials"), TableRights { look: Reach::All, ..TableRights::default() })];
    let pavel = person(&base, "Pavel");
    let clock = clock();
    // A role that is only about another table shows nothing here.
    let ds = with_roles(vec![[(at, all_but_mail.clone())].into(), nothing_here.into()], pavel);
    let lens = Lens::new(&ds, Asker::Person(pavel), &clock);
    assert!(!lens.reads(at, mail) && lens.reads(at, title));
    // One that shows it on some records shows it there.
    let reported = test(&[field(&ds, "Faults.Status")], Check::Option { not: false, any: vec![option(&ds, "Faults.Status.reported")] });
    let some = TableRights { look: Reach::Where(reported.clone()), ..TableRights::default() };
    let ds = with_roles(vec![[(at, all_but_mail)].into(), [(at, some)].into()], pavel);
    let lens = Lens::new(&ds, Asker::Person(pavel), &clock);
    let whole = Lens::of_everything(&ds, None, &clock);
    for record in records(&ds, at) {
        let told = lens.text_at(at, record, mail);
        if reported.holds(&whole, at, record) {
            assert_eq!(told, whole.text_at(at, record, mail));
        } else {
            assert_eq!(told, "");
        }
    }
    let _ = Condition::default();
}
