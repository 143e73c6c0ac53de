using System.Diagnostics;
using System.Reflection;
using Nippers.Demo;
using Nippers.Tests;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Interactions;
using OpenQA.Selenium.Support.UI;

namespace Nippers.Browser.Tests;

/// <summary>The application and a headless Chromium for the tests of a class. Each test starts its own application.</summary>
public sealed class Browser : IAsyncLifetime
{
    private static readonly TimeSpan Breath = TimeSpan.FromMilliseconds(25);
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(30);
    private static readonly TimeSpan Longest = TimeSpan.FromMinutes(3);
    private readonly string _profile = Directory.CreateTempSubdirectory("chromium-").FullName;
    private ChromeDriver? _driver;
    private DemoApp? _app;
    private string? _clockScript;
    private bool _shared;

    public ChromeDriver Driver => _driver ?? throw new InvalidOperationException("not started");

    public DemoApp App => _app ?? throw new InvalidOperationException("not started");

    public ValueTask InitializeAsync()
    {
        Launch();
        return ValueTask.CompletedTask;
    }

    private void Launch()
    {
        var options = new ChromeOptions { BinaryLocation = "/usr/bin/chromium" };
        options.AddArguments(
            "--headless=new",
            "--no-sandbox",
            "--disable-gpu",
            "--disable-dev-shm-usage",
            "--disable-quic",
            "--no-first-run",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
            "--force-device-scale-factor=1",
            "--hide-scrollbars",
            $"--user-data-dir={_profile}"
        );
        options.SetLoggingPreference(LogType.Browser, LogLevel.All);

        // The driver's own path keeps Selenium from looking for one.
        _driver = new ChromeDriver(ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver"), options, Longest + Patience);

        // A slow machine takes its time to start the rules in a page.
        _driver.Manage().Timeouts().AsynchronousJavaScript = Longest;
    }

    /// <summary>The browser dies in the middle of it, as when a battery does, and is opened again.</summary>
    public void DieAndComeBack()
    {
        // Its own profile tells it from any other browser on the machine.
        foreach (var process in Process.GetProcessesByName("chromium").Concat(Process.GetProcessesByName("chrome")))
        {
            try
            {
                if (File.ReadAllText($"/proc/{process.Id}/cmdline").Contains(_profile, StringComparison.Ordinal))
                    process.Kill();
            }
            catch (Exception gone) when (gone is IOException or InvalidOperationException or System.ComponentModel.Win32Exception)
            {
                // A child went with its parent.
            }
        }

        try
        {
            Driver.Dispose();
        }
        catch (WebDriverException)
        {
            // Nobody is there to be told.
        }

        foreach (var left in Directory.GetFiles(_profile, "Singleton*"))
            File.Delete(left);
        _clockScript = null;
        Launch();
        SetClock();
    }

    /// <summary>
    /// Pages keep what a phone needs without a network. Off where a test does not speak of that: the worker fetches and unpacks the
    /// whole of the rules for each application that is started.
    /// </summary>
    public bool KeepsForLater { get; set; }

    /// <summary>The same fleet for all tests of a class: for those that leave each other alone.</summary>
    public async Task BeginOnce(string userName, int width, int height)
    {
        if (_shared)
            Size(width, height);
        else
            await Begin(userName, width, height);
        _shared = true;
    }

    /// <summary>A fresh demo fleet, a window of a size, and somebody signed in.</summary>
    public async Task Begin(string userName, int width = 1280, int height = 800)
    {
        _shared = false;
        if (_app is not null)
        {
            // A page that is open fetches for later: from an application that is gone it would complain in the next test.
            await Driver.Navigate().GoToUrlAsync("about:blank");
            await _app.DisposeAsync();
            Driver.Manage().Logs.GetLog(LogType.Browser);
        }

        _app = await DemoApp.Start();
        SetClock();
        Size(width, height);
        SignIn(userName);
    }

    /// <summary>Gives pages the application's day: their clocks count from its now, and then run.</summary>
    private void SetClock() => SetClock(TimeSpan.Zero);

    /// <summary>The same on a phone whose clock is ahead of the application's.</summary>
    public void SetClock(TimeSpan ahead)
    {
        if (_clockScript is { } old)
            Driver.ExecuteCdpCommand("Page.removeScriptToEvaluateOnNewDocument", new() { ["identifier"] = old });
        var now = (App.Clock.GetUtcNow() + ahead).ToUnixTimeMilliseconds();
        var script = $$"""
            (() => {
              if (!{{(KeepsForLater ? "true" : "false")}}) Object.defineProperty(navigator, "serviceWorker", { value: undefined });
              const Real = Date, shift = {{now}} - Real.now();
              const now = () => Real.now() + shift;
              globalThis.Date = new Proxy(Real, {
                construct: (target, given, made) => Reflect.construct(target, given.length ? given : [now()], made),
                apply: () => new Real(now()).toString(),
                get: (target, name) => name === "now" ? now : target[name],
              });
            })();
            """;
        _clockScript = (string)
            ((Dictionary<string, object>)Driver.ExecuteCdpCommand("Page.addScriptToEvaluateOnNewDocument", new() { ["source"] = script })!)[
                "identifier"
            ];
    }

    /// <summary>Somebody else takes the browser.</summary>
    public void SignIn(string userName)
    {
        Driver.Manage().Cookies.DeleteAllCookies();
        Fill();
        Wait(d =>
        {
            // Where the server takes longer than the phone waits for it, the phone has filled the page itself: asked for again.
            if (d.FindElements(By.CssSelector("html[data-shell=ready]")).Count > 0)
                d.Navigate().Refresh();

            // What the page before had still asked for may be answered after this one, with another key for forms: then the form
            // is refused, and is loaded and sent once more, as that page says.
            var refused = new Uri(d.Url).AbsolutePath == "/sign-in" && d.FindElements(By.Id("userName")).Count == 0;
            if (refused && d.FindElements(By.CssSelector("main h1")).Count > 0)
            {
                Fill();
                return null;
            }

            return d.FindElement(By.Id("quick-line"));
        });

        void Fill()
        {
            Open("/sign-in");
            Driver.FindElement(By.Id("userName")).SendKeys(userName);
            Driver.FindElement(By.Id("password")).SendKeys(DemoAccounts.Password + Keys.Enter);
        }
    }

    public void Size(int width, int height) =>
        Driver.ExecuteCdpCommand(
            "Emulation.setDeviceMetricsOverride",
            new Dictionary<string, object?>
            {
                ["width"] = width,
                ["height"] = height,
                ["deviceScaleFactor"] = 1,
                ["mobile"] = false,
            }
        );

    public void Open(string path) => Driver.Navigate().GoToUrl(new Uri(App.Address, path));

    public IWebElement Find(string css) => Wait(d => d.FindElement(By.CssSelector(css)));

    /// <summary>Waits for a thing; a thing that is replaced while it is looked at is looked at again.</summary>
    public T Wait<T>(Func<IWebDriver, T?> probe)
        where T : class
    {
        // A browser that is asked again and again without a breath has no time left to do what is waited for.
        var wait = new WebDriverWait(new SystemClock(), Driver, Longest, Breath);
        wait.IgnoreExceptionTypes(typeof(WebDriverException));
        try
        {
            return wait.Until(probe)!;
        }
        catch (WebDriverTimeoutException late)
        {
            var console = string.Join('\n', Driver.Manage().Logs.GetLog(LogType.Browser).Select(x => x.Message));
            throw new TimeoutException(
                $"Not seen at {Driver.Url}: {Driver.FindElement(By.TagName("main")).Text}\nConsole: {console}",
                late
            );
        }
    }

    public void WaitForText(string css, string text) =>
        Wait(d => d.FindElement(By.CssSelector(css)) is { } x && x.Text.Contains(text, StringComparison.Ordinal) ? x : null);

    /// <summary>Clicks where a finger would, wherever the page has scrolled to.</summary>
    public void Tap(string css)
    {
        var element = Find(css);
        Driver.ExecuteScript("arguments[0].scrollIntoView({block:'center'})", element);
        element.Click();
    }

    /// <summary>Taps with a finger: a touch, not a mouse that clicks.</summary>
    public void Press(string css) => Press(Find(css));

    /// <summary>The same on an element at hand.</summary>
    public void Press(IWebElement element)
    {
        Driver.ExecuteScript("arguments[0].scrollIntoView({block:'center'})", element);
        var finger = new PointerInputDevice(PointerKind.Touch);
        var tap = new ActionSequence(finger);
        tap.AddAction(finger.CreatePointerMove(element, 0, 0, TimeSpan.Zero));
        tap.AddAction(finger.CreatePointerDown(MouseButton.Touch));
        tap.AddAction(finger.CreatePointerUp(MouseButton.Touch));
        Driver.PerformActions([tap]);
    }

    public void Type(string css, string text)
    {
        var field = Find(css);
        field.Clear();
        field.SendKeys(text);
    }

    /// <summary>A picture as a phone takes one, in a file.</summary>
    public static string Picture()
    {
        var picture = Path.Combine(Directory.CreateTempSubdirectory("photo-").FullName, "tyre.png");
        using var drawn = NetVips.Image.Black(900, 700, bands: 3);
        drawn.Pngsave(picture);
        return picture;
    }

    private static readonly Lazy<string> Axe = new(() =>
    {
        using var reader = new StreamReader(Assembly.GetExecutingAssembly().GetManifestResourceStream("axe.min.js")!);
        return reader.ReadToEnd();
    });

    /// <summary>What axe looks for.</summary>
    public enum Look
    {
        /// <summary>All but contrast, which takes longest; for pages that the walk over every page sees anyway.</summary>
        Flow,

        /// <summary>All.</summary>
        Whole,

        /// <summary>What depends on theme and width alone, for a page that was looked at whole.</summary>
        Again,
    }

    /// <summary>Nothing serious from axe, nothing in the console, nothing wider than the window.</summary>
    public void AssertSound(Look look = Look.Flow)
    {
        var rules = look switch
        {
            Look.Flow => "rules:{'color-contrast':{enabled:false}},",
            Look.Again => "runOnly:['color-contrast','link-in-text-block','scrollable-region-focusable'],",
            _ => "",
        };
        if (!(bool)Driver.ExecuteScript("return 'axe' in window")!)
            Driver.ExecuteScript(Axe.Value);
        var found =
            (IEnumerable<object>)
                Driver.ExecuteAsyncScript(
                    "const done = arguments[arguments.length-1];"
                        + $"axe.run(document,{{{rules}resultTypes:['violations']}}).then(r => done(r.violations.filter(v => v.impact === 'serious' || v.impact === 'critical').map(v => v.id + ': ' + v.nodes.slice(0,3).map(n => n.html).join(' | '))));"
                )!;
        Assert.Empty(found.Select(x => $"{Driver.Url} {x}"));

        // A refusal is an answer of 422, a session that is over one of 401, which the browser's console counts as failed loads, as it
        // does a network that is cut.
        Assert.Empty(
            Driver
                .Manage()
                .Logs.GetLog(LogType.Browser)
                .Where(x =>
                    x.Level == LogLevel.Severe
                    && !x.Message.Contains("status of 422", StringComparison.Ordinal)
                    && !x.Message.Contains("status of 401", StringComparison.Ordinal)
                    && !x.Message.Contains("ERR_INTERNET_DISCONNECTED", StringComparison.Ordinal)
                    && !x.Message.Contains("/phone/entries - Failed to load", StringComparison.Ordinal)
                    && !x.Message.Contains("/favicon.ico", StringComparison.Ordinal)
                )
                .Select(x => x.Message)
        );
        Assert.True(
            (bool)Driver.ExecuteScript("return document.documentElement.scrollWidth <= window.innerWidth")!,
            Driver.Url + " is wider than its window"
        );
    }

    public async ValueTask DisposeAsync()
    {
        _driver?.Quit();
        _driver?.Dispose();
        if (_app is not null)
            await _app.DisposeAsync();
        try
        {
            Directory.Delete(_profile, recursive: true);
        }
        catch (IOException)
        {
            // Chromium may still be letting go of its profile.
        }
    }
}
