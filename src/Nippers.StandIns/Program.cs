using System.CommandLine;
using Nippers.StandIns;

var port = new Option<int>("--port") { Description = "Port to listen on.", DefaultValueFactory = _ => 5081 };
var delay = new Option<int>("--delay") { Description = "Seconds until results are ready.", DefaultValueFactory = _ => 20 };
var seed = new Option<int>("--seed") { Description = "Another seed gives other figures.", DefaultValueFactory = _ => 7 };
var oneIn = new Option<int>("--one-in")
{
    Description = "One compartment in so many has a trouble by itself.",
    DefaultValueFactory = _ => 9,
};
var faults = new Option<string[]>("--fault")
{
    Description = $"A trouble for a compartment, UNIT:COMPARTMENT=FAULT; faults: {string.Join(", ", Enum.GetNames<OilFault>())}.",
};
faults.Validators.Add(x =>
{
    foreach (var text in x.GetValueOrDefault<string[]>() ?? [])
    {
        if (
            text.Split('=') is not [{ Length: > 0 } at, var fault]
            || !at.Contains(':', StringComparison.Ordinal)
            || !Enum.TryParse<OilFault>(fault, ignoreCase: true, out _)
        )
            x.AddError($"'{text}' is no fault; write for example EX-02:engine=fuel.");
    }
});
var mailPort = new Option<int>("--mail-port")
{
    Description = "Port on which messages are taken; their list is on /mail.",
    DefaultValueFactory = _ => 5082,
};
var root = new RootCommand("A small simulated oil laboratory that answers after a while, and a mail server that shows what it got.")
{
    port,
    delay,
    seed,
    oneIn,
    faults,
    mailPort,
};
root.SetAction(
    async (given, ct) =>
    {
        var chosen = (given.GetValue(faults) ?? [])
            .Select(x => x.Split('='))
            .ToDictionary(x => x[0], x => Enum.Parse<OilFault>(x[1], ignoreCase: true), StringComparer.Ordinal);
        var lab = new LabServer(
            new(
                given.GetValue(port),
                TimeSpan.FromSeconds(given.GetValue(delay)),
                given.GetValue(seed),
                Math.Max(1, given.GetValue(oneIn)),
                chosen
            ),
            TimeProvider.System
        );
        await using var app = lab.Create();
        await using var mail = new MailStand(given.GetValue(mailPort));
        mail.Map(app);
        mail.Start();
        await app.StartAsync(ct);
        await Console.Error.WriteLineAsync(
            $"The stand-in laboratory is at {app.Urls.First()}, what its mail server got at {app.Urls.First()}/mail (Ctrl+C stops both)"
        );
        await app.WaitForShutdownAsync(ct);
        return 0;
    }
);
return await root.Parse(args).InvokeAsync();
