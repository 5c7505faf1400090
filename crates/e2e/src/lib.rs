//! A real server with the demo team, and real browsers that look at it.

use serde_json::{Value, json};
use std::{
    io::{BufRead, BufReader},
    path::PathBuf,
    process::{Child, Command, Stdio},
    sync::atomic::{AtomicU32, Ordering},
    time::Duration,
};
use thirtyfour::{ChromeCapabilities, ChromiumLikeCapabilities, TypingData, error::WebDriverErrorInner, prelude::*};
use tokio_postgres::NoTls;

/// The list that is open.
const LISTED: &str = ".v-overlay--active .pick-list";

/// How long a test waits for what should be there at once: a machine may be busy with other things.
const PATIENCE: Duration = Duration::from_secs(30);

/// How long until it looks again.
const AGAIN: Duration = Duration::from_millis(40);

/// How often it looks until patience ends.
const LOOKS: u128 = PATIENCE.as_millis() / AGAIN.as_millis();

static NUMBER: AtomicU32 = AtomicU32::new(0);

fn setting(name: &str) -> String {
    std::env::var(name).unwrap_or_else(|_| panic!("{name} is not set: run these tests with bin/test"))
}

/// How good the line between a browser and the server is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Line {
    Good,
    /// Every answer takes over half a second.
    Slow,
    Lost,
}

/// The program with a database and a folder of its own. Killed when dropped.
#[derive(Debug)]
pub struct Server {
    child: Child,
    /// Where it listens: `http://127.0.0.1:…`.
    pub address: String,
    /// Where the first person begins a team of their own, while nobody has: the path.
    pub beginning: Option<String>,
    database: String,
    folder: PathBuf,
    port: u16,
}

/// Whose trackers a server holds.
#[derive(Clone, Copy, Debug)]
enum Of {
    /// The demo's, with so many faults.
    Demo(usize),
    /// A team's own.
    Team,
}

impl Server {
    /// Starts with a fresh demo of so many faults.
    pub async fn start(faults: usize) -> Self {
        Self::begin(Of::Demo(faults)).await
    }

    /// Starts with nothing and nobody.
    pub async fn own() -> Self {
        Self::begin(Of::Team).await
    }

    async fn begin(of: Of) -> Self {
        // Clients of HTTP are built for TLS with no library of their own, as the server is; here nothing is encrypted.
        let _ = rustls::crypto::ring::default_provider().install_default();
        let database = format!("e2e_{}_{}", std::process::id(), NUMBER.fetch_add(1, Ordering::Relaxed));
        let (client, connection) =
            tokio_postgres::connect(&format!("{}/postgres", setting("WESTERFALL_TEST_SERVER")), NoTls).await.expect("the database answers");
        let line = tokio::spawn(connection);
        client.batch_execute(&format!("CREATE DATABASE {database}")).await.expect("a new database");
        drop(client);
        let _ = line.await;
        let folder = std::env::temp_dir().join(&database);
        let (child, address, beginning) = run(None, &database, &folder, 0, of);
        let port = address.rsplit(':').next().and_then(|p| p.parse().ok()).expect("an address with a port");
        Self { child, address, beginning, database, folder, port }
    }

    /// Kills it as hard as can be: nothing is tidied up.
    pub fn kill(&mut self) {
        self.child.kill().expect("it was running");
        self.child.wait().expect("it ends");
    }

    /// Starts it again at the same address, on what was kept.
    pub fn restart(&mut self) {
        (self.child, self.address, self.beginning) = run(None, &self.database, &self.folder, self.port, Of::Demo(0));
    }

    /// The same, as if it were another moment: as `faketime` reads it, in UTC.
    pub fn restart_at(&mut self, moment: &str) {
        (self.child, self.address, self.beginning) = run(Some(moment), &self.database, &self.folder, self.port, Of::Demo(0));
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
        let _ = std::fs::remove_dir_all(&self.folder);
    }
}

fn run(moment: Option<&str>, database: &str, folder: &std::path::Path, port: u16, of: Of) -> (Child, String, Option<String>) {
    let mut command = match moment {
        None => Command::new(setting("WESTERFALL_PROGRAM")),
        Some(moment) => {
            let mut faked = Command::new("faketime");
            faked.env("TZ", "UTC").args(["-f", moment, &setting("WESTERFALL_PROGRAM")]);
            faked
        }
    };
    let mut child = command
        .args(["--database-url", &format!("{}/{database}", setting("WESTERFALL_TEST_SERVER"))])
        .args(["--files", folder.to_str().expect("a plain path"), "--web", &setting("WESTERFALL_WEB"), "--port", &port.to_string()])
        .args(match of {
            Of::Demo(faults) => vec!["--demo".to_owned(), "--scale".to_owned(), faults.to_string()],
            Of::Team => Vec::new(),
        })
        .args(["--hold", "1", "--burst", "100000"])
        .stdout(Stdio::piped())
        .stderr(Stdio::null())
        .spawn()
        .expect("the program starts");
    let mut out = BufReader::new(child.stdout.take().expect("its output"));
    let mut line = String::new();
    let mut beginning = None;
    while !line.starts_with("Westerfall listens") {
        line.clear();
        assert!(out.read_line(&mut line).expect("its output can be read") > 0, "the program ended before it listened");
        let told = line.split_whitespace().next_back().and_then(|word| word.find("/begin/").map(|at| word[at..].to_owned()));
        beginning = told.or(beginning);
    }
    // What it says later is read and forgotten, so that it never waits for a reader.
    std::thread::spawn(move || out.lines().map_while(Result::ok).for_each(drop));
    let address = line.split_whitespace().find(|w| w.starts_with("http://")).expect("its address").trim_end_matches(',').to_owned();
    (child, address, beginning)
}

/// ChromeDriver, for the browsers of one test. Killed when dropped.
#[derive(Debug)]
pub struct Driver {
    child: Child,
    port: u16,
}

impl Driver {
    /// Starts it on a free port.
    pub async fn start() -> Self {
        let port = std::net::TcpListener::bind("127.0.0.1:0").and_then(|l| l.local_addr()).expect("a free port").port();
        let child = Command::new("chromedriver").arg(format!("--port={port}")).stdout(Stdio::null()).stderr(Stdio::null()).spawn();
        let driver = Self { child: child.expect("chromedriver is installed"), port };
        for _ in 0..100 {
            if tokio::net::TcpStream::connect(("127.0.0.1", port)).await.is_ok() {
                return driver;
            }
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
        panic!("chromedriver does not answer");
    }

    /// A browser of its own, with no memory, so many pixels wide and high.
    pub async fn browser(&self, server: &Server, width: u32, height: u32) -> Browser {
        let mut caps = ChromeCapabilities::new();
        let quiet = [
            "--headless=new",
            "--no-sandbox",
            "--disable-gpu",
            "--disable-quic",
            "--disable-dev-shm-usage",
            "--no-first-run",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
        ];
        for argument in quiet {
            caps.add_arg(argument).expect("an argument");
        }
        caps.add_arg(&format!("--window-size={width},{height}")).expect("an argument");
        if width < 600 {
            let phone = json!({ "deviceMetrics": { "width": width, "height": height, "pixelRatio": 1.0, "mobile": true } });
            caps.add_experimental_option("mobileEmulation", phone).expect("an option");
        }
        let web = WebDriver::new(&format!("http://127.0.0.1:{}", self.port), caps).await.expect("a browser");
        Browser { web, address: server.address.clone() }
    }
}

impl Drop for Driver {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

/// A browser, spoken to as a person would use it: by what is written there.
#[derive(Clone, Debug)]
pub struct Browser {
    pub web: WebDriver,
    address: String,
}

impl Browser {
    /// Gives the browser a device that proves who its owner is, as a finger on it would.
    pub async fn has_a_device(&self) {
        let tools = self.web.cdp();
        tools.send_raw("WebAuthn.enable", json!({})).await.expect("the browser takes devices");
        let options = json!({ "options": {
            "protocol": "ctap2", "transport": "internal", "hasResidentKey": true, "hasUserVerification": true,
            "isUserVerified": true, "automaticPresenceSimulation": true
        } });
        tools.send_raw("WebAuthn.addVirtualAuthenticator", options).await.expect("the device is there");
    }

    /// Opens an address of the server.
    pub async fn go(&self, path: &str) {
        self.web.goto(format!("{}{path}", self.address)).await.expect("the page opens");
    }

    /// Goes to a page, and gives after how many seconds what fits stood painted there, by the page's own clock, which begins as one
    /// goes: what the driver takes to look for it does not count.
    pub async fn first(&self, path: &str, css: &str) -> f64 {
        const PAINTED: &str = "
            const [css, done] = arguments;
            const look = () => document.querySelector(css) ? requestAnimationFrame(() => done(performance.now())) : requestAnimationFrame(look);
            look();";
        self.go(path).await;
        let told = self.web.execute_async(PAINTED, vec![json!(css)]).await.expect("it comes");
        told.json().as_f64().expect("milliseconds") / 1000.0
    }

    /// The first element that fits, as soon as it is shown; fails when patience ends.
    #[track_caller]
    pub fn see(&self, css: &str) -> impl Future<Output = WebElement> + use<'_> {
        self.wait_for(By::Css(css.to_owned()), css.to_owned())
    }

    /// The element of some sort that holds a text, as soon as it is shown.
    #[track_caller]
    pub fn text(&self, element: &str, text: &str) -> impl Future<Output = WebElement> + use<'_> {
        let path = holding(element, text);
        self.wait_for(By::XPath(path.clone()), path)
    }

    /// The cell of a field in the row that holds a text.
    #[track_caller]
    pub fn cell(&self, row: &str, field: &str) -> impl Future<Output = WebElement> + use<'_> {
        let path = cell_path(row, field);
        self.wait_for(By::XPath(path.clone()), path)
    }

    #[track_caller]
    fn wait_for(&self, by: By, what: String) -> impl Future<Output = WebElement> + use<'_> {
        let caller = std::panic::Location::caller();
        async move {
            for _ in 0..LOOKS {
                if let Some(found) = self.shown(&by).await {
                    return found;
                }
                tokio::time::sleep(AGAIN).await;
            }
            self.give_up(&format!("{what} is not shown ({caller})")).await
        }
    }

    /// The first of these elements that is shown now. One that goes away while it is looked at counts as not shown: the page is still
    /// being drawn.
    async fn shown(&self, by: &By) -> Option<WebElement> {
        for found in self.web.find_all(by.clone()).await.unwrap_or_default() {
            if found.is_displayed().await.unwrap_or(false) {
                return Some(found);
            }
        }
        None
    }

    /// Presses what holds a text.
    #[track_caller]
    pub fn press(&self, element: &str, text: &str) -> impl Future<Output = ()> + use<'_> {
        let path = holding(element, text);
        self.hit(By::XPath(path.clone()), path)
    }

    /// Presses the first element that fits.
    #[track_caller]
    pub fn click(&self, css: &str) -> impl Future<Output = ()> + use<'_> {
        self.hit(By::Css(css.to_owned()), css.to_owned())
    }

    /// Presses the cell of a field in the row that holds a text.
    #[track_caller]
    pub fn press_cell(&self, row: &str, field: &str) -> impl Future<Output = ()> + use<'_> {
        let path = cell_path(row, field);
        self.hit(By::XPath(path.clone()), path)
    }

    /// Presses what is there, once, as a person would: when it stands still and nothing lies over it. What is drawn anew under the
    /// finger, so that the press met nothing, is looked for again.
    #[track_caller]
    fn hit(&self, by: By, what: String) -> impl Future<Output = ()> + use<'_> {
        let caller = std::panic::Location::caller();
        async move {
            let mut last = "it is not shown".to_owned();
            for look in 0..LOOKS {
                if let Some(found) = self.shown(&by).await
                    && (self.stands_still(&found).await || look > LOOKS / 4)
                {
                    match found.click().await {
                        Ok(()) => return,
                        Err(error) if is_miss(&error) => last = error.to_string(),
                        Err(error) => panic!("{what} cannot be pressed ({caller}): {error}"),
                    }
                    // What lies over it may leave it alone elsewhere.
                    let middle = "arguments[0].scrollIntoView({ block: 'center' })";
                    let _ = self.web.execute(middle, vec![found.to_json().expect("an element")]).await;
                }
                tokio::time::sleep(AGAIN).await;
            }
            self.give_up(&format!("{what} cannot be pressed ({caller}): {last}")).await
        }
    }

    /// Whether an element is where it was two frames ago.
    async fn stands_still(&self, found: &WebElement) -> bool {
        let looked = "const [element, done] = arguments;
            const place = () => { const at = element.getBoundingClientRect(); return [at.x, at.y, at.width, at.height].join(); };
            const before = place();
            requestAnimationFrame(() => requestAnimationFrame(() => done(before === place())));";
        let still = self.web.execute_async(looked, vec![found.to_json().expect("an element")]).await;
        still.is_ok_and(|answer| answer.json().as_bool().unwrap_or(false))
    }

    /// What is written on the first element that fits, as soon as it is shown.
    #[track_caller]
    pub fn read(&self, css: &str) -> impl Future<Output = String> + use<'_> {
        self.written(By::Css(css.to_owned()), css.to_owned())
    }

    /// What is written in the cell of a field in the row that holds a text.
    #[track_caller]
    pub fn read_cell(&self, row: &str, field: &str) -> impl Future<Output = String> + use<'_> {
        let path = cell_path(row, field);
        self.written(By::XPath(path.clone()), path)
    }

    #[track_caller]
    fn written(&self, by: By, what: String) -> impl Future<Output = String> + use<'_> {
        let caller = std::panic::Location::caller();
        async move {
            for _ in 0..LOOKS {
                if let Some(found) = self.shown(&by).await
                    && let Ok(words) = found.text().await
                {
                    return words;
                }
                tokio::time::sleep(AGAIN).await;
            }
            self.give_up(&format!("{what} is not shown ({caller})")).await
        }
    }

    /// Chooses an option of a list by its text.
    #[track_caller]
    pub fn choose(&self, css: &str, option: &str) -> impl Future<Output = ()> + use<'_> {
        // Its name is often that of the line within it, which a list covers with what is chosen.
        let list = self.click(&format!(".pick:is({css}), .pick:has({css})"));
        let path = format!(
            "//*[contains(@class, 'v-overlay--active')]//*[contains(@class, 'v-list-item-title')][normalize-space(.) = {}]",
            quoted(option)
        );
        let option = option.to_owned();
        async move {
            list.await;
            self.see(LISTED).await;
            // A long list draws only what is in sight.
            for page in 0..20 {
                self.script(&format!("document.querySelector('{LISTED}')?.scrollTo(0, {page} * 150)")).await;
                tokio::time::sleep(AGAIN).await;
                // It may be drawn anew while the list scrolls.
                if let Ok(found) = self.web.find(By::XPath(path.clone())).await
                    && found.click().await.is_ok()
                {
                    return;
                }
            }
            self.give_up(&format!("no option “{option}”")).await
        }
    }

    /// What a short list offers, which is left as it was.
    #[track_caller]
    pub fn offers(&self, css: &str) -> impl Future<Output = Vec<String>> + use<'_> {
        let list = self.click(&format!(".pick:is({css}), .pick:has({css})"));
        async move {
            list.await;
            let words = self.see(LISTED).await.text().await.expect("the list can be read");
            self.keys(Key::Escape.value().to_string()).await;
            words.lines().map(|line| line.trim().to_owned()).collect()
        }
    }

    /// Types over what stands in a box.
    #[track_caller]
    pub fn fill(&self, css: &str, text: &str) -> impl Future<Output = ()> + use<'_> {
        let found = self.click(css);
        let text = text.to_owned();
        async move {
            found.await;
            self.chord(&[Key::Control], 'a').await;
            self.keys(text).await;
        }
    }

    /// Gives a file to a field for files, which may be drawn by something else.
    #[track_caller]
    pub fn give_file(&self, css: &str, path: &std::path::Path) -> impl Future<Output = ()> + use<'_> {
        let (css, path, caller) = (css.to_owned(), path.to_string_lossy().into_owned(), std::panic::Location::caller());
        async move {
            for _ in 0..LOOKS {
                if let Ok(field) = self.web.find(By::Css(css.clone())).await
                    && field.send_keys(path.as_str()).await.is_ok()
                {
                    return;
                }
                tokio::time::sleep(AGAIN).await;
            }
            self.give_up(&format!("{css} takes no file ({caller})")).await
        }
    }

    /// Types, one key after the other, to whatever has the focus.
    pub async fn keys(&self, keys: impl Into<TypingData>) {
        self.web.action_chain().send_keys(keys).perform().await.expect("keys can be pressed");
    }

    /// Holds keys while another is pressed.
    pub async fn chord(&self, held: &[Key], key: impl Into<char>) {
        let mut chain = self.web.action_chain();
        for one in held {
            chain = chain.key_down(one.clone());
        }
        let key: char = key.into();
        chain = chain.key_down(key).key_up(key);
        for one in held {
            chain = chain.key_up(one.clone());
        }
        chain.perform().await.expect("keys can be pressed");
    }

    /// Pulls the mouse from one element to another.
    pub async fn pull(&self, from: &WebElement, to: &WebElement) {
        self.carry(from, to, 0).await;
    }

    /// Takes hold of an element and lets it go so many pixels below the middle of another.
    pub async fn carry(&self, from: &WebElement, to: &WebElement, below: i64) {
        let chain = self.web.action_chain().move_to_element_center(from).click_and_hold().move_by_offset(6, 6);
        let chain = chain.move_to_element_center(to).move_by_offset(2, below);
        chain.release().perform().await.expect("the mouse can be pulled");
    }

    /// Sets how good the line to the server is.
    pub async fn line(&self, line: Line) {
        let tools = self.web.cdp();
        tools.send_raw("Network.enable", json!({})).await.expect("the network can be watched");
        let latency = if line == Line::Slow { 600 } else { 0 };
        let conditions = json!({ "offline": line == Line::Lost, "latency": latency, "downloadThroughput": -1, "uploadThroughput": -1 });
        tools.send_raw("Network.emulateNetworkConditions", conditions).await.expect("the network can be set");
    }

    /// Lets files that the page hands over be kept in a folder.
    pub async fn keeps_in(&self, folder: &std::path::Path) {
        std::fs::create_dir_all(folder).expect("a folder for files");
        let allowed = json!({ "behavior": "allow", "downloadPath": folder.display().to_string() });
        self.web.cdp().send_raw("Browser.setDownloadBehavior", allowed).await.expect("files can be kept");
    }

    /// The file whose name ends like this, once it is there whole; it is taken out of the folder.
    #[track_caller]
    pub fn kept<'a>(&'a self, folder: &'a std::path::Path, ending: &'a str) -> impl Future<Output = Vec<u8>> + 'a {
        let found = move || {
            let files = std::fs::read_dir(folder).ok()?.filter_map(Result::ok).map(|file| file.path());
            files.into_iter().find(|file| file.to_string_lossy().ends_with(ending))
        };
        let there = self.until("a file is kept", move || async move { found().is_some() });
        async move {
            there.await;
            let file = found().expect("it is there");
            let bytes = std::fs::read(&file).expect("it can be read");
            std::fs::remove_file(&file).expect("it can be taken out");
            bytes
        }
    }

    /// How many elements fit, now.
    pub async fn count(&self, css: &str) -> usize {
        self.web.find_all(By::Css(css)).await.map_or(0, |found| found.len())
    }

    /// Waits until something holds; fails when patience ends.
    #[track_caller]
    pub fn until<'a, F: Future<Output = bool> + 'a>(
        &'a self,
        what: &'a str,
        mut holds: impl FnMut() -> F + 'a,
    ) -> impl Future<Output = ()> + 'a {
        let caller = std::panic::Location::caller();
        async move {
            for _ in 0..LOOKS {
                if holds().await {
                    return;
                }
                tokio::time::sleep(AGAIN).await;
            }
            self.give_up(&format!("never: {what} ({caller})")).await
        }
    }

    /// Fails, saying what the page showed instead.
    async fn give_up<T>(&self, what: &str) -> T {
        let at = self.web.current_url().await.map_or_else(|e| e.to_string(), |url| url.to_string());
        panic!("{what}; at {at} the page says:\n{}", self.words().await)
    }

    /// Everything that is written on the page.
    pub async fn words(&self) -> String {
        self.script("return document.body.innerText").await.as_str().unwrap_or_default().to_owned()
    }

    /// Runs a script on the page, to look (never to act).
    pub async fn script(&self, script: &str) -> Value {
        self.web.execute(script, Vec::new()).await.map_or(Value::Null, |answer| answer.json().clone())
    }

    /// Signs in as one of the demo's people, with one click.
    pub async fn walk_in(&self, name: &str) {
        self.go("/sign-in").await;
        self.press("button", name).await;
        self.text("p", "that you may open").await;
    }

    /// Fails where axe finds something serious on the page.
    pub async fn is_open_to_all(&self, page: &str) {
        let axe = std::fs::read_to_string(PathBuf::from(setting("WESTERFALL_WEB")).join("../node_modules/axe-core/axe.min.js"))
            .expect("axe is installed");
        self.web.execute(&axe, Vec::new()).await.expect("axe can be loaded");
        let run =
            "const done = arguments[arguments.length - 1]; axe.run(document, { resultTypes: ['violations'] }).then((r) => done(r.violations
            .filter((v) => ['serious', 'critical'].includes(v.impact))
            .map((v) => v.id + ': ' + v.help + ' at ' + v.nodes.slice(0, 3).map((n) => n.target.join(' ')).join(', '))))";
        let found = self.web.execute_async(run, Vec::new()).await.expect("axe runs").json().clone();
        assert_eq!(found, json!([]), "on {page}");
    }

    pub async fn close(self) {
        let _ = self.web.quit().await;
    }
}

/// Whether a press met nothing: what it was meant for is gone, hidden, or lies under something else.
fn is_miss(error: &WebDriverError) -> bool {
    use WebDriverErrorInner as Said;
    let (Said::StaleElementReference(_) | Said::ElementClickIntercepted(_) | Said::ElementNotInteractable(_) | Said::NoSuchElement(_)) =
        error.as_inner()
    else {
        return false;
    };
    true
}

/// The path of the elements of some sort that hold a text.
fn holding(element: &str, text: &str) -> String {
    format!("//{element}[contains(normalize-space(.), {})]", quoted(text))
}

/// The path of the cell of a field in the row that holds a text.
fn cell_path(row: &str, field: &str) -> String {
    format!("//div[@role='row'][contains(., {})]//div[@data-field={}]", quoted(row), quoted(field))
}

/// A text within an XPath.
fn quoted(text: &str) -> String {
    if text.contains('\'') { format!("\"{text}\"") } else { format!("'{text}'") }
}
