using Nippers.App;
using Nippers.Web.Hosting;

namespace Nippers.Demo;

/// <summary>Who can sign in to the demo: one of each role and a second technician, offered on its sign-in page.</summary>
public static class DemoAccounts
{
    /// <summary>The password of each of them.</summary>
    public const string Password = "spring tide";

    public static IReadOnlyList<OfferedAccount> All { get; } =
    [
        new("mara", "Mara Quill", Roles.Planner, Password),
        new("tam", "Tam Ollery", Roles.Technician, Password),
        new("wenna", "Wenna Pask", Roles.Technician, Password),
        new("ines", "Ines Varrow", Roles.Operator, Password),
    ];
}
